//! Parts that overlap, enclose one another, come in shells and groups: who owns what, and how the list says so.

use crate::jobs_of::{at, job_of};
use crate::part_jobs::{TOP, do_all, near, part, refused, region, volume};
use rstest::rstest;
use varichrom_core::job::{
    CutPlane, Edit, Fragments, History, PartEdit, PartMeeting, PlaceEdit, Placing, Target,
};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::model::{OpenMesh, Place};
use varichrom_demo::{box_mesh, compass_coaster, signal_tiles, stl, subdivided_sphere, together};

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
    let pairs = h.job().part_meetings(&|_, _| true).unwrap().pairs;
    assert_eq!(pairs[0].parts, [(0, 0), (1, 0)]);
    let PartMeeting::Overlap { volume_mm3, .. } = pairs[0].meeting else {
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
        h.job().part_meetings(&|_, _| true).unwrap().pairs[0].parts,
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
    let pairs = h.job().part_meetings(&|_, _| true).unwrap().pairs;
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
    // Nor in what is handed over.
    let package = OpenMesh::from_bytes(&h.job().threemf(&[]).unwrap()).unwrap();
    assert_eq!(
        (package.parts.len(), &package.part_names[..]),
        (1, &[Some("b".to_string())][..])
    );
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
    let pairs = job.part_meetings(&|_, _| true).unwrap().pairs;
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
    let namers = job.models[0].open.namers();
    let places: Vec<Place> = namers
        .iter()
        .map(|n| at("rose", n.point, n.normal))
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
    let shift = Edit::Place(PlaceEdit::Place {
        target: Target::Part {
            at: places[0].clone(),
        },
        placing: Placing::Move {
            by_mm: [1.0, 0.0, 0.0],
        },
    });
    refused(&mut h, &shelf, shift, "part-locked");
}

#[test]
fn the_coaster_s_overlaps_are_all_found_and_can_be_cut_away() {
    let (shelf, mut h) = job_of(&[("rose", &stl(&compass_coaster(), "rose"))]);
    let overlaps = |h: &History| -> Vec<([(usize, usize); 2], f64)> {
        let pairs = h.job().part_meetings(&|_, _| true).unwrap().pairs;
        pairs
            .iter()
            .filter_map(|p| match p.meeting {
                PartMeeting::Overlap { volume_mm3, .. } => Some((p.parts, volume_mm3)),
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
        let namer = h.job().models[0].open.namers()[p];
        at("rose", namer.point, namer.normal)
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
    let package = h.job().threemf(&[]).unwrap();
    let back = OpenMesh::from_bytes(&package).unwrap();
    assert_eq!((back.parts.len(), back.is_closed()), (10, true));
}

/// Where one part's face lies on another's, the place that names it is one that the other does not cover.
#[test]
fn every_part_is_named_by_a_place_that_leads_back_to_it() {
    let boxes = together(&[
        box_mesh([0.0; 3], [10.0, 10.0, 4.0]),
        box_mesh([6.0, 2.0, 0.0], [16.0, 8.0, 4.0]),
        box_mesh([2.0, -4.0, 0.0], [8.0, 9.0, 2.0]),
    ]);
    let (_, h) = job_of(&[("boxes", &stl(&boxes, "boxes"))]);
    let open = &h.job().models[0].open;
    for (part, namer) in open.namers().iter().enumerate() {
        let facet = at("boxes", namer.point, namer.normal).facet(open).unwrap();
        assert_eq!(open.part_of[facet as usize] as usize, part);
    }
}

/// However many parts lie at a place, few of them are looked at: by parts it would take hours.
#[rstest]
#[case::on_one_another(0.0)]
#[case::a_hair_apart(2.4e-7)]
fn parts_that_lie_on_one_another_by_the_thousand_are_named_at_once(#[case] hair_mm: f64) {
    let many: Vec<_> = (0..20_000)
        .map(|i| {
            let by = f64::from(i % 13) * hair_mm;
            box_mesh([by; 3], [2.0 + by; 3])
        })
        .collect();
    let open = OpenMesh::from_bytes(&stl(&together(&many), "boxes")).unwrap();
    let namers = open.namers();
    assert_eq!(namers.len(), open.parts.len());
    let first = at("boxes", namers[0].point, namers[0].normal).facet(&open);
    let part = open.part_of[first.unwrap() as usize];
    assert!(hair_mm > 0.0 || part == 0);
}

/// Names and places in the list of many parts, and their order after one is taken out and put back.
#[test]
fn many_shells_get_names_of_their_own_and_keep_their_order() {
    let many: Vec<_> = (0..60)
        .map(|i| {
            box_mesh(
                [3.0 * f64::from(i), 0.0, 0.0],
                [3.0 * f64::from(i) + 2.0, 2.0, 2.0],
            )
        })
        .collect();
    let (shelf, mut h) = job_of(&[("row", &stl(&together(&many), "row"))]);
    let on = |i: usize| at("row", [3.0 * i as f64 + 0.5, 1.0, 2.0], TOP);
    do_all(
        &mut h,
        &shelf,
        vec![part(PartEdit::Join {
            at: (0..60).map(on).collect(),
        })],
    );
    let split = PartEdit::Split {
        at: on(0),
        smaller_mm3: 0.0,
        fragments: Fragments::Keep,
        alike: false,
    };
    do_all(&mut h, &shelf, vec![part(split)]);
    let names = |h: &History| -> Vec<String> {
        let job = h.job();
        let listed = job.listed_parts();
        listed
            .iter()
            .map(|(m, p)| job.models[*m].parts[*p].name.clone())
            .collect()
    };
    let before = names(&h);
    let mut unique = before.clone();
    unique.sort();
    unique.dedup();
    assert_eq!((before.len(), unique.len()), (60, 60));
    do_all(&mut h, &shelf, vec![part(PartEdit::Drop { at: on(30) })]);
    assert_eq!(names(&h).len(), 59);
    h.undo(&shelf).unwrap();
    assert_eq!(names(&h), before);
}
