//! Parts made from regions and reliefs, cut and sunk: volumes against formulas, refusals that change nothing.

use crate::jobs_of::{at, job_of};
use crate::part_jobs::{TOP, do_all, names, near, part, patch, refused, region, slab, volume};
use rstest::rstest;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::{CutPlane, Depth, Fragments, History, Models, PartEdit, PartMeeting};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::model::{OpenMesh, Place};
use varichrom_demo::{box_mesh, stl, tide_plaque, together};

#[test]
fn a_painted_top_becomes_a_lid_and_undo_brings_back_the_very_same_mesh() {
    let (shelf, mut h) = job_of(&[("slab", &slab())]);
    do_all(
        &mut h,
        &shelf,
        vec![
            region("lid"),
            patch("lid", at("slab", [5.0, 5.0, 6.0], TOP)),
        ],
    );
    let before = h.job().models[0].open.clone();
    let edit = part(PartEdit::FromRegion {
        region: "lid".into(),
        at: None,
        depth: Depth::Mm { mm: 1.0 },
        alike: false,
    });
    do_all(&mut h, &shelf, vec![edit]);
    assert_eq!(names(&h), ["lid", "slab"]);
    // Prismatoid: h/6 (A + 4 M + a) with sides mitred at 45°.
    let lid = 1.0 / 6.0 * (40.0 * 30.0 + 4.0 * 39.0 * 29.0 + 38.0 * 28.0);
    near(volume(&h, "lid"), lid);
    near(volume(&h, "slab"), 40.0 * 30.0 * 6.0 - lid);
    // The part is of its region as a whole, the rest shows no more of it.
    assert_eq!(h.job().models[0].parts[0].own, 1);
    assert!(h.job().models[0].labels.is_plain());
    assert!(h.undo(&shelf).unwrap());
    assert_eq!(h.job().models[0].open.mesh, before.mesh);
    assert!(!h.job().models[0].labels.is_plain());
    assert!(h.redo(&shelf).unwrap());
    near(volume(&h, "lid"), lid);
}

#[test]
fn layers_of_a_part_and_of_the_soak_it_was_made_from_agree() {
    let (shelf, mut h) = job_of(&[("slab", &slab())]);
    do_all(
        &mut h,
        &shelf,
        vec![
            region("lid"),
            patch("lid", at("slab", [5.0, 5.0, 6.0], TOP)),
        ],
    );
    let areas = |h: &History| -> Vec<f64> {
        let job = h.job();
        let found = survey(job.bodies(), Settings::from(&job.printer), 0.8, &|_| true).unwrap();
        let layers = label(&found, &job.claims());
        layers.iter().map(|l| l.regions[1].area_mm2).collect()
    };
    let soaked = areas(&h);
    let edit = part(PartEdit::FromRegion {
        region: "lid".into(),
        at: None,
        depth: Depth::Soak,
        alike: false,
    });
    do_all(&mut h, &shelf, vec![edit]);
    let made = areas(&h);
    assert_eq!(soaked.iter().filter(|a| **a > 0.0).count(), 4);
    for (a, b) in soaked.iter().zip(&made) {
        // Within half a cell along the border: 0.1 mm of 140 mm.
        assert!((a - b).abs() < 14.0, "{a} and {b}");
    }
}

fn letter(depth: f64) -> Place {
    // The lower left corner of the first letter's floor.
    let mesh = tide_plaque();
    let floor = (0..mesh.facets.len() as u32)
        .map(|f| mesh.corners(f))
        .find(|c| {
            c.iter()
                .all(|p| (p[2] - varichrom_demo::PLAQUE_FLOOR_MM).abs() < 1e-9)
        })
        .unwrap();
    let middle = [0, 1, 2].map(|i| (floor[0][i] + floor[1][i] + floor[2][i]) / 3.0);
    at("plaque", [middle[0], middle[1], middle[2] + depth], TOP)
}

fn inlay(layers: Option<u32>, clearance_mm: f64) -> PartEdit {
    PartEdit::Inlay {
        region: "ink".into(),
        at: letter(0.0),
        crease_deg: 30.0,
        all: true,
        layers,
        clearance_mm,
        alike: false,
    }
}

#[rstest]
#[case(None, 4)]
#[case(Some(2), 2)]
fn engraved_letters_are_filled_and_facts_say_so_before(
    #[case] layers: Option<u32>,
    #[case] deep: u32,
) {
    let (shelf, mut h) = job_of(&[("plaque", &stl(&tide_plaque(), "plaque"))]);
    do_all(&mut h, &shelf, vec![region("ink")]);
    let plate = volume(&h, "plaque");
    let facts = h.job().inlay_facts(&inlay(layers, 0.0)).unwrap().unwrap();
    assert_eq!(facts.thickness.layers, Some(deep));
    assert_eq!(facts.pieces as usize, varichrom_demo::PLAQUE_LETTERS);
    assert!(facts.thickness.off_grid_mm < 1e-6 && !facts.thickness.is_under_a_layer);
    let tried = h.job().parts_made(&inlay(layers, 0.0), &shelf).unwrap();
    assert!(tried[0].is_new && (tried[0].solid.volume_mm3() - facts.volume_mm3).abs() < 1e-9);
    do_all(&mut h, &shelf, vec![part(inlay(layers, 0.0))]);
    assert_eq!(names(&h), ["ink inlay", "plaque"]);
    near(volume(&h, "ink inlay"), facts.volume_mm3);
    // The pocket is filled to the brim, whatever of it went to the plate.
    let whole = plate + facts.volume_mm3 * facts.pocket_mm / facts.thickness.mm;
    near(volume(&h, "ink inlay") + volume(&h, "plaque"), whole);
    let touching = h.job().part_meetings(&|_, _| true).unwrap().pairs;
    assert!(matches!(touching[..], [ref p] if matches!(p.meeting, PartMeeting::Touch { .. })));
}

#[test]
fn a_tile_sinks_level_with_its_plate_and_leaves_the_gap_asked_for() {
    let plate = stl(&box_mesh([-20.0, -20.0, 0.0], [20.0, 20.0, 4.0]), "plate");
    let tile = stl(&box_mesh([-5.0, -5.0, 4.0], [5.0, 5.0, 5.5]), "tile");
    for gap in [0.0, 0.1] {
        let (shelf, mut h) = job_of(&[("plate", &plate), ("tile", &tile)]);
        let edit = PartEdit::Sink {
            at: at("tile", [1.0, 2.0, 5.5], TOP),
            depth_mm: None,
            clearance_mm: gap,
            alike: false,
        };
        // 1.5 mm are seven layers of 0.2 mm and a half one, which the facts say before.
        let facts = h.job().inlay_facts(&edit).unwrap().unwrap();
        near(facts.thickness.mm, 1.5);
        near(facts.pocket_mm, 1.5);
        near(facts.thickness.off_grid_mm, 0.1);
        assert!(matches!(facts.thickness.layers, Some(7 | 8)) && !facts.is_under_a_line);
        do_all(&mut h, &shelf, vec![part(edit)]);
        near(volume(&h, "tile"), 150.0);
        near(
            volume(&h, "plate"),
            6400.0 - (10.0 + 2.0 * gap) * (10.0 + 2.0 * gap) * 1.5,
        );
        near(h.job().bounds().size()[2], 4.0);
    }
}

#[test]
fn cuts_repeat_on_every_part_of_the_same_shape() {
    let posts = together(&[
        box_mesh([0.0; 3], [4.0, 6.0, 10.0]),
        box_mesh([20.0, 0.0, 0.0], [26.0, 4.0, 10.0]),
        box_mesh([40.0, 0.0, 0.0], [44.0, 6.0, 11.0]),
    ]);
    let (shelf, mut h) = job_of(&[("posts", &stl(&posts, "posts"))]);
    let on = at("posts", [2.0, 0.0, 5.0], [0.0, -1.0, 0.0]);
    assert_eq!(h.job().count_alike(&on).unwrap(), 1);
    let cut = PartEdit::Cut {
        at: on,
        plane: CutPlane::Height { mm: 3.0 },
        alike: true,
    };
    do_all(&mut h, &shelf, vec![part(cut)]);
    let mut volumes: Vec<f64> = h.job().models[0]
        .open
        .parts
        .iter()
        .map(|p| p.measures.volume_mm3)
        .collect();
    volumes.sort_by(f64::total_cmp);
    for (found, wanted) in volumes.iter().zip([72.0, 72.0, 168.0, 168.0, 264.0]) {
        near(*found, wanted);
    }
    assert!(
        h.job().models[0].parts.iter().all(|p| p.own == 0),
        "slots are never dealt out"
    );
}

#[test]
fn what_cannot_be_made_is_refused_with_the_place_and_changes_nothing() {
    let (shelf, mut h) = job_of(&[("slab", &slab())]);
    do_all(
        &mut h,
        &shelf,
        vec![
            region("lid"),
            patch("lid", at("slab", [5.0, 5.0, 6.0], TOP)),
        ],
    );
    let from = |depth: Depth| {
        part(PartEdit::FromRegion {
            region: "lid".into(),
            at: None,
            depth,
            alike: false,
        })
    };
    for mm in [0.0, -1.0, f64::NAN] {
        refused(&mut h, &shelf, from(Depth::Mm { mm }), "depth-out-of-range");
    }
    let problem = h.apply(from(Depth::Mm { mm: 5.9 }), &shelf);
    assert!(problem.is_ok(), "a frustum just fits: {problem:?}");
    h.undo(&shelf).unwrap();
    refused(&mut h, &shelf, from(Depth::Mm { mm: 15.5 }), "depth-folds");
    refused(&mut h, &shelf, from(Depth::Through), "through-nothing-left");
    let on = at("slab", [5.0, 5.0, 6.0], TOP);
    let cut = |plane: CutPlane| {
        part(PartEdit::Cut {
            at: on.clone(),
            plane,
            alike: false,
        })
    };
    refused(
        &mut h,
        &shelf,
        cut(CutPlane::Height { mm: 7.0 }),
        "cut-misses",
    );
    let line = [[0.0; 3], [1.0, 1.0, 1.0], [2.0, 2.0, 2.0]];
    refused(
        &mut h,
        &shelf,
        cut(CutPlane::Points { points: line }),
        "cut-points",
    );
    let fill = PartEdit::Inlay {
        region: "lid".into(),
        at: on.clone(),
        crease_deg: 30.0,
        all: false,
        layers: None,
        clearance_mm: 0.0,
        alike: false,
    };
    let problem = h.apply(part(fill), &shelf).unwrap_err();
    assert!(
        ["inlay-not-sunken", "inlay-no-rim"].contains(&problem.code.as_str()),
        "{problem}"
    );
    let sink = PartEdit::Sink {
        at: on.clone(),
        depth_mm: None,
        clearance_mm: 0.0,
        alike: false,
    };
    refused(&mut h, &shelf, part(sink), "sink-nothing-below");
    refused(
        &mut h,
        &shelf,
        part(PartEdit::Drop { at: on.clone() }),
        "drop-last",
    );
    let split = PartEdit::Split {
        at: on.clone(),
        smaller_mm3: 0.0,
        fragments: Fragments::Keep,
        alike: false,
    };
    refused(&mut h, &shelf, part(split), "split-one-shell");
    refused(
        &mut h,
        &shelf,
        part(PartEdit::Print {
            at: on,
            is_printed: false,
        }),
        "print-nothing",
    );

    let mut open = box_mesh([0.0; 3], [10.0; 3]);
    open.facets.pop();
    let (shelf, mut h) = job_of(&[("open", &stl(&open, "open"))]);
    let cut = PartEdit::Cut {
        at: at("open", [2.0, 1.0, 0.0], [0.0, 0.0, -1.0]),
        plane: CutPlane::Height { mm: 5.0 },
        alike: false,
    };
    refused(&mut h, &shelf, part(cut), "part-not-closed");
}

#[test]
fn every_colour_of_the_painted_gull_becomes_a_part_as_deep_as_it_goes() {
    let demo = varichrom_demo::demo_jobs();
    let demo = demo.iter().find(|d| d.model == "Gull").unwrap();
    let (shelf, mut h) = job_of(&[("Gull", &demo.bytes)]);
    do_all(&mut h, &shelf, demo.edits.clone());
    let whole = h.job().models[0].open.volume_mm3();
    let keys: Vec<String> = h.job().regions[1..].iter().map(|r| r.key.clone()).collect();
    for region in &keys {
        let depth = Depth::UpTo { mm: 0.8 };
        let make = PartEdit::FromRegion {
            region: region.clone(),
            at: None,
            depth,
            alike: false,
        };
        do_all(&mut h, &shelf, vec![part(make)]);
    }
    let open = &h.job().models[0].open;
    assert_eq!(open.parts.len(), 1 + keys.len());
    assert!(
        open.parts
            .iter()
            .all(|p| p.is_closed && p.measures.volume_mm3 > 10.0)
    );
    assert!((open.volume_mm3() - whole).abs() < 1e-6 * whole);
}

/// A shelf whose edits are stopped after so many words on how far they are.
struct Impatient<'a> {
    shelf: &'a crate::jobs_of::Shelf,
    words: std::cell::Cell<usize>,
    heard: std::cell::RefCell<Vec<f64>>,
}

impl Models for Impatient<'_> {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        self.shelf.open(content)
    }

    fn go_on(&self, done: f64) -> bool {
        self.heard.borrow_mut().push(done);
        self.words.replace(self.words.get().saturating_sub(1)) > 0
    }
}

#[test]
fn an_edit_of_parts_can_be_stopped_anywhere_and_changes_nothing_then() {
    let pair = together(&[
        box_mesh([0.0; 3], [40.0, 30.0, 6.0]),
        box_mesh([50.0, 0.0, 0.0], [90.0, 30.0, 6.0]),
    ]);
    let (shelf, mut h) = job_of(&[("pair", &stl(&pair, "pair"))]);
    let tops = [[5.0, 5.0, 6.0], [55.0, 5.0, 6.0]].map(|p| patch("lid", at("pair", p, TOP)));
    do_all(&mut h, &shelf, vec![region("lid")]);
    do_all(&mut h, &shelf, tops.to_vec());
    let everywhere = part(PartEdit::FromRegion {
        region: "lid".into(),
        at: None,
        depth: Depth::Mm { mm: 1.0 },
        alike: false,
    });
    let before = (h.job().models[0].open.clone(), h.head());
    let mut stops = 0;
    loop {
        let models = Impatient {
            shelf: &shelf,
            words: stops.into(),
            heard: Vec::new().into(),
        };
        let done = h.apply(everywhere.clone(), &models);
        let heard = models.heard.into_inner();
        assert!(heard.is_sorted() && heard.iter().all(|d| (0.0..=1.0).contains(d)));
        if done.is_ok() {
            break;
        }
        assert_eq!(done.unwrap_err().code, "stopped");
        assert_eq!(before.0.mesh, h.job().models[0].open.mesh);
        assert_eq!(h.head(), before.1);
        assert_eq!(names(&h).len(), 2);
        stops += 1;
    }
    // Both parts say when they begin, and how far they are in between.
    assert!(stops >= 6, "{stops}");
    assert_eq!(names(&h).len(), 4);
}
