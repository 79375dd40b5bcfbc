//! Parts that would vanish: what lies flush in another ranks above it, and what prints nothing says so, with the reason.

use crate::jobs_of::{Shelf, job_of};
use crate::part_jobs::region;
use rstest::rstest;
use varichrom_core::advice::{Caution, CheckedPlan, WhyUnprinted, checked_plan};
use varichrom_core::job::{Edit, History, PlaceEdit};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::mesh::Mesh;
use varichrom_demo::{box_mesh, rack, stl, together};

fn planned(history: &History) -> CheckedPlan {
    let job = history.job();
    let settings = Settings::from(&job.printer);
    let found = survey(job.bodies(), settings, job.deepest_soak_mm(), &|_| true).expect("done");
    checked_plan(job, &rack(), &label(&found, &job.claims())).expect("a plan")
}

/// Models of one mesh each, opened in order.
fn opened(meshes: &[(&str, Mesh)]) -> (Shelf, History) {
    let files: Vec<(&str, Vec<u8>)> = meshes.iter().map(|(n, m)| (*n, stl(m, n))).collect();
    let files: Vec<(&str, &[u8])> = files.iter().map(|(n, b)| (*n, &b[..])).collect();
    job_of(&files)
}

fn first(history: &History) -> String {
    let job = history.job();
    let (model, part) = job.ranked_parts()[0];
    job.models[model].parts[part].name.clone()
}

fn caution<'a>(plan: &'a CheckedPlan, code: &str) -> Option<&'a Caution> {
    plan.cautions.iter().find(|c| c.code == code)
}

fn base() -> Mesh {
    box_mesh([0.0; 3], [30.0, 20.0, 4.0])
}

#[rstest]
#[case::flush_with_the_top(box_mesh([5.0, 5.0, 3.0], [9.0, 15.0, 4.0]))]
#[case::flush_with_a_side_and_the_foot(box_mesh([0.0, 5.0, 0.0], [9.0, 15.0, 1.0]))]
#[case::right_through(box_mesh([5.0, 5.0, 0.0], [9.0, 15.0, 4.0]))]
#[case::within(box_mesh([5.0, 5.0, 1.0], [9.0, 15.0, 3.0]))]
fn what_fills_a_place_of_another_ranks_above_it_in_any_order(#[case] letter: Mesh) {
    for files in [
        [("base", base()), ("letter", letter.clone())],
        [("letter", letter.clone()), ("base", base())],
    ] {
        let (_, history) = opened(&files);
        assert_eq!(first(&history), "letter");
        let plan = planned(&history);
        assert!(plan.unprinted_parts.is_empty());
    }
}

#[test]
fn of_parts_in_one_file_as_well() {
    let (_, history) = opened(&[(
        "both",
        together(&[base(), box_mesh([5.0, 5.0, 3.0], [9.0, 15.0, 4.0])]),
    )]);
    let job = history.job();
    let volume = |(m, p): (usize, usize)| job.models[m].open.parts[p].measures.volume_mm3;
    assert!(volume(job.ranked_parts()[0]) < 100.0);
}

#[test]
fn what_stands_out_keeps_the_order_of_the_list() {
    let raised = box_mesh([5.0, 5.0, 3.0], [9.0, 15.0, 5.0]);
    let (_, history) = opened(&[("base", base()), ("raised", raised)]);
    assert_eq!(first(&history), "base");
}

/// A box one of whose facets has a corner off by a hair, so that two of its edges do not meet their neighbours.
fn cracked(low: [f64; 3], high: [f64; 3]) -> Mesh {
    let mut mesh = box_mesh(low, high);
    let last = mesh.facets.len() - 1;
    let corner = mesh.vertices[mesh.facets[last][0] as usize];
    mesh.vertices
        .push([corner[0] + 0.004, corner[1] + 0.003, corner[2]]);
    mesh.facets[last][0] = mesh.vertices.len() as u32 - 1;
    mesh
}

#[test]
fn a_part_with_a_hair_crack_within_another_still_prints() {
    let inner = cracked([5.0, 5.0, 1.0], [9.0, 15.0, 3.0]);
    let (_, history) = opened(&[("base", base()), ("inner", inner)]);
    let inner = &history.job().models[1].open.parts[0];
    assert!(!inner.is_closed);
    assert_eq!(first(&history), "inner");
    assert!(planned(&history).unprinted_parts.is_empty());
    // And the question what it meets is answered as for a closed one.
    let found = history.job().part_meetings(&|_, _| true).expect("done");
    assert!(found.unknown.is_empty());
    assert_eq!(found.pairs.len(), 1);
}

#[test]
fn what_cannot_be_told_is_said() {
    let mut open = box_mesh([5.0, 5.0, 1.0], [25.0, 15.0, 6.0]);
    open.facets.truncate(open.facets.len() - 4);
    let (_, history) = opened(&[("base", base()), ("open", open)]);
    let found = history.job().part_meetings(&|_, _| true).expect("done");
    assert_eq!(found.unknown.len(), 1);
    assert_eq!(found.unknown[0].part, (1, 0));
    assert!(found.unknown[0].at.is_some());
}

#[test]
fn a_part_between_two_layers_says_so() {
    let thin = box_mesh([5.0, 5.0, 4.0], [9.0, 15.0, 4.05]);
    let (_, history) = opened(&[("base", base()), ("thin", thin)]);
    let plan = planned(&history);
    assert_eq!(plan.unprinted_parts.len(), 1);
    assert_eq!(plan.unprinted_parts[0].why, WhyUnprinted::BetweenLayers);
    let said = caution(&plan, "part-unprinted").expect("said");
    assert!(said.is_wrong && said.message.contains("thinner than a layer"));
}

#[test]
fn a_part_narrower_than_a_line_says_so_however_large_the_rest_is() {
    let sheet = box_mesh([40.0, 0.0, 0.0], [40.08, 20.0, 10.0]);
    let (_, history) = opened(&[
        ("base", box_mesh([0.0; 3], [30.0, 30.0, 10.0])),
        ("sheet", sheet),
    ]);
    let plan = planned(&history);
    assert_eq!(plan.unprinted_parts.len(), 1);
    assert_eq!(plan.unprinted_parts[0].why, WhyUnprinted::TooThin);
    assert_eq!(plan.unprinted_parts[0].by, None);
    let said = caution(&plan, "part-unprinted").expect("said");
    assert!(
        said.is_wrong && said.message.contains("narrower than 0.6 lines"),
        "{}",
        said.message
    );
    // A part that is too thin in some layers only is printed in the others.
    let wedge = |low: f64| {
        let mut mesh = box_mesh([40.0, 0.0, 0.0], [41.0, 20.0, 10.0]);
        mesh.vertices
            .iter_mut()
            .filter(|p| p[2] > 5.0 && p[0] > 40.5)
            .for_each(|p| p[0] = 40.0 + low);
        mesh
    };
    let (_, history) = opened(&[("base", base()), ("wedge", wedge(0.05))]);
    assert!(planned(&history).unprinted_parts.is_empty());
}

#[test]
fn a_fin_that_nobody_prints_is_told_on_a_large_body() {
    // One body: a block of 9 cm³ with a fin of 0.1 mm on it, joined by a cut of the fin's foot into the block.
    let fin = box_mesh([10.0, 5.0, 9.0], [10.1, 25.0, 20.0]);
    let block = box_mesh([0.0; 3], [30.0, 30.0, 10.0]);
    let (_, history) = opened(&[("both", together(&[block, fin]))]);
    let plan = planned(&history);
    let told = plan
        .cautions
        .iter()
        .any(|c| c.code == "too-thin" && c.message.contains("not printed"));
    let part = plan.cautions.iter().any(|c| c.code == "part-unprinted");
    assert!(told || part, "{:?}", plan.cautions);
}

#[test]
fn two_parts_in_one_place_are_told_and_not_sent_up_and_down() {
    let (shelf, mut history) = opened(&[("one", base()), ("two", base())]);
    history.apply(region("red"), &shelf).expect("new");
    let give = serde_json::json!({ "edit": "give-part", "region": "red",
        "at": { "model": "two", "point": [15.0, 10.0, 4.0], "normal": [0, 0, 1] } });
    let give = serde_json::from_value(give).expect("an edit");
    history.apply(give, &shelf).expect("given");
    let plan = planned(&history);
    assert_eq!(plan.unprinted_parts[0].part, "two");
    // Its colour is not told besides to be too thin, which is not why.
    assert!(caution(&plan, "region-unprinted").is_none());
    let said = caution(&plan, "part-unprinted").expect("said");
    assert!(said.message.contains("same place") && said.edit.is_none());
}

#[test]
fn a_part_that_two_others_cover_prints_once_it_is_raised() {
    // Neither holds it alone, so the list decides.
    let left = box_mesh([0.0; 3], [15.0, 20.0, 4.0]);
    let right = box_mesh([15.0, 0.0, 0.0], [30.0, 20.0, 4.0]);
    let across = box_mesh([10.0, 5.0, 1.0], [20.0, 15.0, 3.0]);
    let (shelf, mut history) = opened(&[("left", left), ("right", right), ("across", across)]);
    // Raised above one of them it is half there, which counts as printed.
    let before = planned(&history);
    assert_eq!(before.unprinted_parts[0].part, "across");
    let edit = caution(&before, "part-unprinted")
        .and_then(|c| c.edit.clone())
        .expect("a mend");
    assert!(matches!(edit, Edit::Part(_)));
    history.apply(edit, &shelf).expect("it works");
    assert!(planned(&history).unprinted_parts.is_empty());
}

#[rstest]
#[case::off_bed([300.0, 20.0, 4.0], 1, "off-bed")]
#[case::too_tall([20.0, 20.0, 300.0], 1, "too-tall")]
#[case::copies([100.0, 100.0, 4.0], 4, "copies-off-bed")]
#[case::nothing([20.0, 20.0, 0.05], 1, "nothing-prints")]
fn a_plan_that_cannot_be_printed_says_so(
    #[case] size: [f64; 3],
    #[case] across: u32,
    #[case] code: &str,
) {
    let (shelf, mut history) = opened(&[("it", box_mesh([0.0; 3], size))]);
    if across > 1 {
        let copies = Edit::Place(PlaceEdit::SetCopies {
            across,
            along: 1,
            spacing_mm: 5.0,
        });
        history.apply(copies, &shelf).expect("copies");
    }
    let plan = planned(&history);
    let said = caution(&plan, code).expect("said");
    assert!(said.is_wrong);
    if let Some(edit) = said.edit.clone() {
        history.apply(edit, &shelf).expect("the mend works");
        assert!(caution(&planned(&history), code).is_none());
    }
}
