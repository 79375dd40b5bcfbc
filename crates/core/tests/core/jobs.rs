//! Jobs: edits, undo, replay, and the plans they lead to.

use crate::judge::cases;
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::HashMap;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::advice::{CheckedPlan, checked_plan};
use varichrom_core::colour::Colour;
use varichrom_core::job::{
    Edit, GiveEdit, History, Job, JobEdit, ModelEdit, Models, Recipe, RegionEdit, SlotEdit,
    SoakDepth,
};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::machine::Printer;
use varichrom_core::model::{OpenMesh, Place};
use varichrom_core::regions::Within;
use varichrom_demo::{box_mesh, demo_jobs, float_in_ring, rack, together};

/// Models by name, opened beforehand.
struct Shelf(HashMap<String, Arc<OpenMesh>>);

impl Models for Shelf {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        let missing = || Problem::new("content-unknown", content, "", "");
        self.0.get(content).cloned().ok_or_else(missing)
    }
}

fn shelf() -> Shelf {
    let cubes = together(&[
        box_mesh([0.0; 3], [20.0, 20.0, 10.0]),
        box_mesh([30.0, 0.0, 0.0], [40.0, 10.0, 10.0]),
    ]);
    let all = [("cubes", cubes), ("float", float_in_ring())];
    Shelf(
        all.into_iter()
            .map(|(n, m)| (n.to_string(), Arc::new(crate::shapes::open(&m))))
            .collect(),
    )
}

fn open_model(name: &str) -> Edit {
    Edit::Model(ModelEdit::OpenModel {
        model: name.into(),
        file: format!("{name}.stl"),
        content: name.into(),
    })
}

fn at(point: [f64; 3], normal: [f64; 3]) -> Place {
    Place {
        model: "cubes".into(),
        point,
        normal,
    }
}

fn top() -> Place {
    at([5.0, 5.0, 10.0], [0.0, 0.0, 1.0])
}

fn add(region: &str) -> Edit {
    let colour = Colour([200, 30, 40]);
    Edit::Region(RegionEdit::AddRegion {
        region: region.into(),
        name: region.into(),
        colour,
        slot: None,
    })
}

fn give_patch(region: &str, at: Place) -> Edit {
    Edit::Give(GiveEdit::GivePatch {
        region: region.into(),
        at,
        crease_deg: 30.0,
        within: Within::Part,
        turn_deg: None,
    })
}

fn history(edits: Vec<Edit>) -> History {
    let mut all = vec![open_model("cubes")];
    all.extend(edits);
    let head = all.len();
    History::replay(all, head, &shelf()).expect("sound edits")
}

/// All that can be seen of a job, for comparing.
fn state(job: &Job) -> (String, Vec<Vec<u16>>) {
    let labels = (0..job.models.len())
        .map(|m| {
            let facets = job.models[m].open.mesh.facets.len() as u32;
            (0..facets).map(|f| job.region_of_facet(m, f)).collect()
        })
        .collect();
    let parts: Vec<_> = job.models.iter().map(|m| m.parts.clone()).collect();
    (
        format!(
            "{} {:?} {:?} {:?} {parts:?}",
            job.name, job.regions, job.slots, job.printer
        ),
        labels,
    )
}

fn planned(job: &Job) -> CheckedPlan {
    let settings = Settings::from(&job.printer);
    let found = survey(job.bodies(), settings, job.deepest_soak_mm(), &|_| true).expect("runs");
    checked_plan(job, &rack(), &label(&found, &job.claims())).expect("few slots")
}

#[test]
fn a_patch_of_a_box_is_one_face_and_takes_a_free_slot() {
    let h = history(vec![add("lid"), give_patch("lid", top())]);
    let job = h.job();
    let lid = job.region("lid").expect("added");
    let labels = &job.models[0].labels;
    let taken = (0..12)
        .filter(|f| labels.whole(*f) == Some(Some(lid)))
        .count();
    assert_eq!(taken, 2);
    assert_eq!(job.regions[lid as usize].slot, Some(2));
}

#[test]
fn a_whole_part_changes_its_own_region_and_drops_its_patches() {
    let whole = Edit::Region(RegionEdit::GivePart {
        region: "lid".into(),
        at: top(),
    });
    let h = history(vec![
        add("lid"),
        add("side"),
        give_patch("side", top()),
        whole,
    ]);
    let job = h.job();
    assert_eq!(
        job.models[0].parts[0].own,
        job.region("lid").expect("added")
    );
    assert_eq!(job.models[0].parts[1].own, 0);
    assert!(job.models[0].labels.is_plain());
}

#[rstest]
#[case(give_patch("lid", at([5.0, 5.0, 5.0], [0.0, 0.0, 1.0])), "place-off-the-mesh")]
#[case(give_patch("lid", at([f64::NAN, 0.0, 0.0], [0.0, 0.0, 1.0])), "place-not-a-number")]
#[case(give_patch("lid", at([5.0, 5.0, 10.0], [0.0; 3])), "place-not-a-number")]
#[case(give_patch("nobody", top()), "region-unknown")]
#[case(Edit::Give(GiveEdit::GivePatch { region: "lid".into(), at: top(), crease_deg: 0.0 , within: Within::Part, turn_deg: None}), "crease-out-of-range")]
#[case(Edit::soak("lid", SoakDepth::Mm { mm: -1.0 }), "soak-out-of-range")]
#[case(Edit::soak("lid", SoakDepth::Mm { mm: f64::NAN }), "soak-out-of-range")]
#[case(Edit::Slot(SlotEdit::AssignSlot { region: "lid".into(), slot: Some(9) }), "slot-unknown")]
#[case(Edit::Slot(SlotEdit::LoadSlot { slot: 0, spool: None }), "slot-unknown")]
#[case(Edit::Region(RegionEdit::DeleteRegion { region: "base".into() }), "region-base")]
#[case(Edit::Region(RegionEdit::RenameRegion { region: "lid".into(), name: "  ".into() }), "name-empty")]
#[case(Edit::Job(JobEdit::RenameJob { name: "x".repeat(300) }), "name-too-long")]
#[case(add("lid"), "region-exists")]
#[case(open_model("cubes"), "model-exists")]
#[case(open_model("unheard of"), "content-unknown")]
#[case(Edit::Slot(SlotEdit::SetPrinter { printer: Printer { layer_mm: 0.0, ..Printer::default() } }), "value-out-of-range")]
fn a_refused_edit_says_why_and_changes_nothing(#[case] edit: Edit, #[case] code: &str) {
    let mut h = history(vec![add("lid"), give_patch("lid", top())]);
    let (before, head) = (state(h.job()), h.head());
    let problem = h.apply(edit, &shelf()).expect_err("refused");
    assert_eq!(problem.code, code, "{problem}");
    assert_eq!((state(h.job()), h.head()), (before, head));
}

/// An edit that is valid on a job with regions a, b and c.
fn any_edit() -> impl Strategy<Value = Edit> {
    let region = prop::sample::select(vec!["base", "a", "b", "c"]).prop_map(String::from);
    let place = prop::sample::select(vec![
        top(),
        at([5.0, 0.0, 5.0], [0.0, -1.0, 0.0]),
        at([35.0, 5.0, 10.0], [0.0, 0.0, 1.0]),
        at([0.0, 5.0, 5.0], [-1.0, 0.0, 0.0]),
    ]);
    (region, place, 0u8..7, 1.0..90.0f64).prop_map(|(region, at, kind, crease_deg)| match kind {
        0 => Edit::Region(RegionEdit::GivePart { region, at }),
        1 => Edit::Region(RegionEdit::RecolourRegion {
            region,
            colour: Colour([crease_deg as u8, 0, 0]),
        }),
        2 => Edit::soak(
            &region,
            SoakDepth::Mm {
                mm: 0.1 + crease_deg / 50.0,
            },
        ),
        3 => Edit::Slot(SlotEdit::AssignSlot {
            region,
            slot: (crease_deg < 60.0).then_some(1 + crease_deg as u8 % 4),
        }),
        4 => Edit::Model(ModelEdit::RenamePart {
            at,
            name: format!("part {crease_deg:.1}"),
        }),
        _ => Edit::Give(GiveEdit::GivePatch {
            region,
            at,
            crease_deg,
            within: Within::Part,
            turn_deg: None,
        }),
    })
}

proptest! {
    #![proptest_config(cases(60))]

    #[test]
    fn undo_and_redo_walk_through_the_same_states(edits in prop::collection::vec(any_edit(), 1..90)) {
        let models = shelf();
        let mut h = history(vec![add("a"), add("b"), add("c")]);
        let mut states = vec![state(h.job())];
        for edit in &edits {
            h.apply(edit.clone(), &models).expect("valid");
            states.push(state(h.job()));
        }
        // Past the steps kept ready, undo replays from the start.
        for expected in states.iter().rev().skip(1) {
            prop_assert!(h.undo(&models).expect("undo"));
            prop_assert_eq!(&state(h.job()), expected);
        }
        for expected in states.iter().skip(1) {
            prop_assert!(h.redo(&models).expect("redo"));
            prop_assert_eq!(&state(h.job()), expected);
        }
        prop_assert!(!h.redo(&models).expect("nothing left"));
        // The same edits from their JSON give the same job.
        let json = serde_json::to_vec(h.edits()).expect("edits are JSON");
        let again: Vec<Edit> = serde_json::from_slice(&json).expect("own JSON");
        let head = again.len();
        let replayed = History::replay(again, head, &models).expect("replays");
        prop_assert_eq!(state(replayed.job()), state(h.job()));
    }
}

#[test]
fn deleting_a_region_gives_its_surface_back_and_undo_returns_it() {
    let models = shelf();
    let mut h = history(vec![add("lid"), give_patch("lid", top())]);
    let before = state(h.job());
    h.apply(
        Edit::Region(RegionEdit::DeleteRegion {
            region: "lid".into(),
        }),
        &models,
    )
    .expect("deleted");
    assert!(h.job().models[0].labels.is_plain());
    assert!(h.undo(&models).expect("undone"));
    assert_eq!(state(h.job()), before);
}

#[test]
fn a_coloured_lid_costs_one_swap_and_the_bill_adds_up() {
    let load = |slot, spool: &str| {
        Edit::Slot(SlotEdit::LoadSlot {
            slot,
            spool: Some(spool.into()),
        })
    };
    let h = history(vec![
        load(1, "chalk"),
        load(2, "soot"),
        add("lid"),
        give_patch("lid", top()),
        Edit::Region(RegionEdit::GivePart {
            region: "lid".into(),
            at: at([35.0, 5.0, 10.0], [0.0, 0.0, 1.0]),
        }),
    ]);
    let p = planned(h.job());
    // The small box is printed in slot 2 on every layer, the large one in slot 1 below its lid: one swap a layer,
    // none between layers, and the last four are all slot 2 but for the rim of the lid.
    assert_eq!(p.layers.len(), 50);
    assert_eq!(p.bill.swaps, p.swaps.len());
    assert!(p.swaps.len() >= 46, "{}", p.swaps.len());
    let purge: f64 = p.swaps.iter().map(|s| s.purge_mm3).sum();
    assert_relative_eq!(purge, p.proof.least, max_relative = 1e-12);
    assert_relative_eq!(p.bill.purge_g, purge * 1.24 / 1000.0, max_relative = 1e-9);
    let model: f64 = p.layers.iter().flat_map(|l| l.extruded_mm3.values()).sum();
    assert_relative_eq!(p.bill.model_g, model * 1.24 / 1000.0, max_relative = 1e-9);
    let volume: f64 = p.regions.iter().map(|r| r.volume_mm3).sum();
    assert_relative_eq!(volume, 5000.0, max_relative = 1e-4);
    assert!(p.proof.least <= p.proof.greedy);
    assert!(p.proof.greedy <= p.proof.number_order);
    let tower = p.tower.expect("something is purged");
    let room = p.swaps.iter().map(|s| s.purge_mm3).fold(0.0, f64::max);
    assert!(tower.side_mm * tower.side_mm * 0.2 >= room - 1e-9);
}

#[test]
fn one_colour_purges_nothing_and_needs_no_tower() {
    let p = planned(history(vec![]).job());
    assert_eq!(
        (p.bill.swaps, p.bill.purge_g, p.bill.tower_g),
        (0, 0.0, 0.0)
    );
    assert!(p.tower.is_none() && p.pairs.is_empty() && p.bill.wasted_share == 0.0);
}

#[test]
fn two_regions_on_one_slot_need_no_swap_between_them() {
    let same = Edit::Slot(SlotEdit::AssignSlot {
        region: "lid".into(),
        slot: Some(1),
    });
    let p = planned(history(vec![add("lid"), give_patch("lid", top()), same]).job());
    assert_eq!(p.bill.swaps, 0);
}

#[test]
fn the_demo_pier_light_finds_its_bands_and_is_planned() {
    let demo = &demo_jobs()[0];
    let open = Arc::new(OpenMesh::from_bytes(&demo.bytes).expect("sound"));
    let models = Shelf(HashMap::from([("light".to_string(), open)]));
    let mut edits = vec![Edit::Model(ModelEdit::OpenModel {
        model: demo.model.into(),
        file: demo.file.into(),
        content: "light".into(),
    })];
    edits.extend(demo.edits.clone());
    let head = edits.len();
    let h = History::replay(edits, head, &models).expect("the demo's own edits");
    let job = h.job();
    let bands = job.region("bands").expect("there");
    // The proud faces of both bands and nothing of the tower between them.
    let open = &job.models[0].open;
    for facet in 0..open.mesh.facets.len() as u32 {
        let c = open.mesh.corners(facet);
        let z = c.iter().map(|p| p[2]).sum::<f64>() / 3.0;
        let radius = c[0][0].hypot(c[0][1]);
        let proud = radius > 14.0 - 5.2 * (z - 3.0) / 30.0 + 0.4;
        if (7.1..13.9).contains(&z) || (20.7..27.1).contains(&z) {
            assert_eq!(
                job.region_of_facet(0, facet) == bands,
                proud,
                "facet at {z}"
            );
        }
    }
    let p = planned(job);
    assert!(p.regions.iter().all(|r| r.grams > 0.05), "{:?}", p.regions);
    assert_eq!(
        p.pairs.iter().map(|r| r.times).sum::<usize>(),
        p.swaps.len()
    );
}

#[rstest]
#[case(
    r#"{"name":"x","models":[],"edits":[],"colour":1}"#,
    "unknown field `colour`"
)]
#[case(
    r#"{"name":"x","models":[],"edits":[{"edit":"rename-job","name":"y","by":"me"}]}"#,
    "unknown field `by`"
)]
#[case(
    r#"{"name":"x","models":[],"edits":[{"edit":"paint"}]}"#,
    "unknown variant `paint`"
)]
#[case(r#"{"name":"x"}"#, "missing field `models`")]
#[case("not json", "expected ident")]
fn a_recipe_that_cannot_be_read_says_where(#[case] text: &str, #[case] says: &str) {
    let problem = Recipe::from_json(text.as_bytes()).expect_err("refused");
    assert_eq!(problem.code, "recipe-not-readable");
    assert!(problem.message.contains(says), "{problem}");
    assert!(problem.place.expect("a line").starts_with("line 1"));
}
