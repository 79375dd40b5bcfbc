//! Parts of a job: made from regions and reliefs, cut, sunk, joined and listed; volumes against formulas, refusals
//! that change nothing.

mod jobs_of;

use jobs_of::{Shelf, at, job_of};
use rstest::rstest;
use varichrom_core::job::{
    CutPlane, Depth, Edit, Fragments, History, PartEdit, PartMeeting, Placing, Target,
};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::regions::Place;
use varichrom_demo::{
    box_mesh, compass_coaster, signal_tiles, stl, subdivided_sphere, tide_plaque, together,
};

/// STL rounds to 32-bit floats.
const FLOAT32: f64 = 2e-6;

fn part(edit: PartEdit) -> Edit {
    Edit::Part(edit)
}

fn region(key: &str) -> Edit {
    serde_json::from_value(serde_json::json!({
        "edit": "add-region", "region": key, "name": key, "colour": "#aa3322"
    }))
    .unwrap()
}

fn patch(region: &str, at: Place) -> Edit {
    serde_json::from_value(serde_json::json!({
        "edit": "give-patch", "region": region, "at": at, "crease_deg": 20.0
    }))
    .unwrap()
}

fn volume(history: &History, name: &str) -> f64 {
    let job = history.job();
    let parts = job
        .models
        .iter()
        .flat_map(|m| m.parts.iter().zip(&m.open.parts));
    let found: Vec<f64> = parts
        .filter(|(p, _)| p.name == name)
        .map(|(_, p)| {
            assert!(p.is_closed, "{name}");
            p.measures.volume_mm3
        })
        .collect();
    assert_eq!(found.len(), 1, "{name}");
    found[0]
}

fn names(history: &History) -> Vec<String> {
    let job = history.job();
    let listed = job.listed_parts();
    listed
        .iter()
        .map(|(m, p)| job.models[*m].parts[*p].name.clone())
        .collect()
}

fn near(found: f64, wanted: f64) {
    assert!(
        (found - wanted).abs() <= FLOAT32 * wanted.abs().max(1.0),
        "{found} instead of {wanted}"
    );
}

fn do_all(history: &mut History, shelf: &Shelf, edits: Vec<Edit>) {
    for edit in edits {
        history.apply(edit, shelf).unwrap_or_else(|p| panic!("{p}"));
    }
}

fn refused(history: &mut History, shelf: &Shelf, edit: Edit, code: &str) {
    let before = serde_json::to_string(&history.recipe(&[])).unwrap();
    let volume = history.job().models[0].open.volume_mm3();
    let problem = history.apply(edit, shelf).unwrap_err();
    assert_eq!(problem.code, code, "{problem}");
    assert_eq!(serde_json::to_string(&history.recipe(&[])).unwrap(), before);
    assert_eq!(history.job().models[0].open.volume_mm3(), volume);
}

const TOP: [f64; 3] = [0.0, 0.0, 1.0];

fn slab() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 6.0]), "slab")
}

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
    let facts = h
        .job()
        .inlay_facts(&letter(0.0), 30.0, true, layers)
        .unwrap();
    assert_eq!(facts.thickness.layers, Some(deep));
    assert_eq!(facts.pieces as usize, varichrom_demo::PLAQUE_LETTERS);
    assert!(facts.thickness.off_grid_mm < 1e-6 && !facts.thickness.is_under_a_layer);
    let tried = h.job().parts_made(&inlay(layers, 0.0)).unwrap();
    assert!(tried[0].is_new && (tried[0].solid.volume_mm3() - facts.volume_mm3).abs() < 1e-9);
    do_all(&mut h, &shelf, vec![part(inlay(layers, 0.0))]);
    assert_eq!(names(&h), ["ink inlay", "plaque"]);
    near(volume(&h, "ink inlay"), facts.volume_mm3);
    // The pocket is filled to the brim, whatever of it went to the plate.
    let whole = plate + facts.volume_mm3 * facts.pocket_mm / facts.thickness.mm;
    near(volume(&h, "ink inlay") + volume(&h, "plaque"), whole);
    let touching = h.job().part_meetings(&|_, _| true).unwrap();
    assert!(matches!(touching[..], [ref p] if matches!(p.meeting, PartMeeting::Touch { .. })));
}

#[test]
fn a_disc_sinks_flush_into_a_plate_and_leaves_the_gap_asked_for() {
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
fn the_order_of_the_list_says_who_owns_an_overlap_and_a_cut_makes_it_real() {
    let a = stl(&box_mesh([0.0; 3], [20.0, 20.0, 4.0]), "a");
    let b = stl(&box_mesh([10.0, 5.0, 0.0], [30.0, 15.0, 4.0]), "b");
    let (shelf, mut h) = job_of(&[("a", &a), ("b", &b)]);
    let (on_a, on_b) = (
        at("a", [1.0, 1.0, 4.0], TOP),
        at("b", [29.0, 6.0, 4.0], TOP),
    );
    let give = |key: &str, at: &Place| -> Edit {
        serde_json::from_value(serde_json::json!({"edit": "give-part", "region": key, "at": at}))
            .unwrap()
    };
    do_all(
        &mut h,
        &shelf,
        vec![
            region("red"),
            region("blue"),
            give("red", &on_a),
            give("blue", &on_b),
        ],
    );
    let shares = |h: &History| -> [f64; 2] {
        let job = h.job();
        let found = survey(job.bodies(), Settings::from(&job.printer), 0.8, &|_| true).unwrap();
        let layer = &label(&found, &job.claims())[5];
        [layer.regions[1].area_mm2, layer.regions[2].area_mm2]
    };
    let is = |found: [f64; 2], wanted: [f64; 2]| {
        assert!(
            (0..2).all(|i| (found[i] - wanted[i]).abs() < 1e-3),
            "{found:?} instead of {wanted:?}"
        );
    };
    // a is 20 × 20, b 20 × 10, and they share 10 × 10.
    is(shares(&h), [400.0, 100.0]);
    let pairs = h.job().part_meetings(&|_, _| true).unwrap();
    assert_eq!(pairs[0].parts, [(0, 0), (1, 0)]);
    let PartMeeting::Overlap { volume_mm3 } = pairs[0].meeting else {
        panic!()
    };
    near(volume_mm3, 400.0);
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Order {
            at: on_b.clone(),
            beside: on_a.clone(),
            above: true,
        })],
    );
    is(shares(&h), [300.0, 200.0]);
    assert_eq!(
        h.job().part_meetings(&|_, _| true).unwrap()[0].parts,
        [(1, 0), (0, 0)]
    );
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::CutOverlap {
            keep: on_b,
            from: on_a.clone(),
        })],
    );
    near(volume(&h, "a"), 1200.0);
    is(shares(&h), [300.0, 200.0]);
    let pairs = h.job().part_meetings(&|_, _| true).unwrap();
    // Two sides of 10 and one of 10 by 4 mm.
    let PartMeeting::Touch { area_mm2 } = pairs[0].meeting else {
        panic!("{:?}", pairs[0])
    };
    near(area_mm2, 3.0 * 10.0 * 4.0);
    // Left out of the print, or of the pass of its slot, it is not there.
    let slots = vec![h.job().regions[1].slot.unwrap()];
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::SkipPasses {
            at: on_a.clone(),
            slots,
        })],
    );
    is(shares(&h), [0.0, 200.0]);
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Print {
            at: on_a,
            is_printed: false,
        })],
    );
    assert_eq!(h.job().bodies().len(), 1);
}

#[test]
fn a_ball_of_16_in_a_box_of_20_prints_in_every_layer_that_has_both() {
    let container = stl(&box_mesh([-10.0; 3], [10.0; 3]), "box");
    let ball = stl(&subdivided_sphere(8.0, 4), "ball");
    let (_, h) = job_of(&[("box", &container), ("ball", &ball)]);
    let job = h.job();
    assert_eq!(
        job.ranked_parts(),
        [(1, 0), (0, 0)],
        "the one inside ranks above"
    );
    let found = survey(job.bodies(), Settings::from(&job.printer), 0.8, &|_| true).unwrap();
    let pairs = job.part_meetings(&|_, _| true).unwrap();
    let PartMeeting::Enclosed { wall_mm, .. } = pairs[0].meeting else {
        panic!()
    };
    near(wall_mm, 2.0);
    // The box's share of a layer and the ball's: give each part a region of its own.
    let mut job = job.clone();
    job.regions.push(varichrom_core::job::Region {
        key: "ball".into(),
        ..job.regions[0].clone()
    });
    job.models[1].parts[0].own = 1;
    for layer in label(&found, &job.claims()) {
        let z = 0.5 * (layer.z0_mm + layer.z1_mm) - 10.0;
        let section = std::f64::consts::PI * (64.0 - z * z).max(0.0);
        assert!((layer.regions[1].area_mm2 - section).abs() < 0.012 * section + 1.0);
        assert!((layer.regions[0].area_mm2 + layer.regions[1].area_mm2 - 400.0).abs() < 1e-3);
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
fn shells_split_join_again_and_crumbs_are_dropped() {
    let (shelf, mut h) = job_of(&[("tiles", &stl(&signal_tiles(), "tiles"))]);
    let whole = h.job().models[0].open.volume_mm3();
    let places: Vec<Place> = [[1.0, 1.0], [37.0, 1.0], [1.0, 37.0]]
        .iter()
        .map(|[x, y]| at("tiles", [*x, *y, 0.0], [0.0, 0.0, -1.0]))
        .collect();
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Join { at: places.clone() })],
    );
    assert_eq!(h.job().models[0].parts.len(), 2);
    near(h.job().models[0].open.volume_mm3(), whole);
    let split = PartEdit::Split {
        at: places[0].clone(),
        smaller_mm3: 0.0,
        fragments: Fragments::Keep,
        alike: false,
    };
    do_all(&mut h, &shelf, vec![part(split)]);
    assert_eq!(h.job().models[0].parts.len(), 4);
    near(h.job().models[0].open.volume_mm3(), whole);
    let crumbs = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([12.0, 0.0, 0.0], [12.2, 0.2, 0.2]),
        box_mesh([20.0, 0.0, 0.0], [30.0, 10.0, 10.0]),
    ]);
    let (shelf, mut h) = job_of(&[("crumbs", &stl(&crumbs, "crumbs"))]);
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Tidy {
            smaller_mm3: 1.0,
            fragments: Fragments::Join,
        })],
    );
    assert_eq!(h.job().models[0].parts.len(), 2);
    near(volume(&h, "crumbs 1"), 1000.008);
    h.undo(&shelf).unwrap();
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Tidy {
            smaller_mm3: 1.0,
            fragments: Fragments::Drop,
        })],
    );
    near(h.job().models[0].open.volume_mm3(), 2000.0);
}

#[test]
fn groups_nest_keep_together_and_locks_hold() {
    let (shelf, mut h) = job_of(&[("rose", &stl(&compass_coaster(), "rose"))]);
    let job = h.job();
    let places: Vec<Place> = (0..10u32)
        .map(|p| {
            let open = &job.models[0].open;
            let c = open.mesh.corners(open.parts[p as usize].first_facet);
            let n = varichrom_core::geometry::facet_normal(&c).unwrap();
            at(
                "rose",
                [0, 1, 2].map(|i| (c[0][i] + c[1][i] + c[2][i]) / 3.0),
                n,
            )
        })
        .collect();
    let group = |at: &[Place], key: &str| {
        part(PartEdit::Group {
            at: at.to_vec(),
            group: key.into(),
            name: key.into(),
        })
    };
    do_all(
        &mut h,
        &shelf,
        vec![group(&places[3..6], "east"), group(&places[2..6], "points")],
    );
    let group_of = |h: &History, p: usize| h.job().models[0].parts[p].group.clone();
    assert_eq!(group_of(&h, 3).as_deref(), Some("east"));
    assert_eq!(group_of(&h, 2).as_deref(), Some("points"));
    assert_eq!(
        h.job()
            .groups
            .iter()
            .find(|g| g.key == "east")
            .unwrap()
            .inside
            .as_deref(),
        Some("points")
    );
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Ungroup {
            group: "points".into(),
        })],
    );
    assert_eq!((group_of(&h, 2), h.job().groups.len()), (None, 1));
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Lock {
            at: places[0].clone(),
            is_locked: true,
        })],
    );
    let cut = PartEdit::Cut {
        at: places[0].clone(),
        plane: CutPlane::Height { mm: 2.0 },
        alike: false,
    };
    refused(&mut h, &shelf, part(cut), "part-locked");
    let shift = Edit::Place {
        target: Target::Part {
            at: places[0].clone(),
        },
        placing: Placing::Move {
            by_mm: [1.0, 0.0, 0.0],
        },
    };
    refused(&mut h, &shelf, shift, "part-locked");
}

#[test]
fn the_coaster_s_overlaps_are_all_found_and_can_be_cut_away() {
    let (shelf, mut h) = job_of(&[("rose", &stl(&compass_coaster(), "rose"))]);
    let overlaps = |h: &History| -> Vec<([(usize, usize); 2], f64)> {
        let pairs = h.job().part_meetings(&|_, _| true).unwrap();
        pairs
            .iter()
            .filter_map(|p| match p.meeting {
                PartMeeting::Overlap { volume_mm3 } => Some((p.parts, volume_mm3)),
                _ => None,
            })
            .collect()
    };
    let found = overlaps(&h);
    // Ring and eight points are all sunk 1 mm into the disc.
    assert_eq!(found.len(), 9);
    let before = h.job().models[0].open.volume_mm3();
    let shared: f64 = found.iter().map(|f| f.1).sum();
    let place = |h: &History, p: usize| {
        let open = &h.job().models[0].open;
        let areas = open.facet_areas();
        let of = (0..open.part_of.len()).filter(|f| open.part_of[*f] as usize == p);
        let f = of.max_by(|a, b| areas[*a].total_cmp(&areas[*b])).unwrap();
        let c = open.mesh.corners(f as u32);
        let n = varichrom_core::geometry::facet_normal(&c).unwrap();
        at(
            "rose",
            [0, 1, 2].map(|i| (c[0][i] + c[1][i] + c[2][i]) / 3.0),
            n,
        )
    };
    for point in 1..10 {
        let edit = PartEdit::CutOverlap {
            keep: place(&h, point),
            from: place(&h, 0),
        };
        do_all(&mut h, &shelf, vec![part(edit)]);
    }
    assert!(overlaps(&h).is_empty());
    near(h.job().models[0].open.volume_mm3(), before - shared);
    let package = h.job().threemf().unwrap();
    let back = varichrom_core::mesh::OpenMesh::from_bytes(&package).unwrap();
    assert_eq!((back.parts.len(), back.is_closed()), (10, true));
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
