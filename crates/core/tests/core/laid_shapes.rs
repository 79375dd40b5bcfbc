//! What is laid for plain shapes: bridges, supports, smoothed tops, the first layer.

use crate::print_paths::Made;
use approx::assert_relative_eq;
use std::collections::BTreeSet;
use varichrom_core::handover::PrintFiles;
use varichrom_core::job::Job;
use varichrom_core::machine::Printer;
use varichrom_core::paths::{BeadKind, Step};

/// A slab on two pillars, 24 mm apart.
fn bridge_job() -> Made {
    Made::of(boxes(&[
        ([0.0, 0.0, 0.0], [4.0, 10.0, 4.0]),
        ([26.0, 0.0, 0.0], [30.0, 10.0, 4.0]),
        ([0.0, 0.0, 4.0], [30.0, 10.0, 6.0]),
    ]))
}

/// Boxes by their low and high corners, as one model.
fn boxes(all: &[([f64; 3], [f64; 3])]) -> Job {
    use varichrom_core::mesh::Mesh;
    use varichrom_demo::{box_mesh, stl};
    let mut mesh = Mesh::default();
    for (low, high) in all {
        let one = box_mesh(*low, *high);
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(one.vertices);
        mesh.facets
            .extend(one.facets.iter().map(|f| f.map(|c| c + first)));
    }
    let (_, history) = crate::jobs_of::job_of(&[("boxes", &stl(&mesh, "boxes"))]);
    history.job().clone()
}

#[test]
fn a_slab_between_pillars_is_bridged_from_one_to_the_other() {
    let made = bridge_job();
    let layers = varichrom_core::handover::job_beads(&made.job, &made.planner, &|_| true);
    let layers = layers.expect("beads");
    let beads = |layer: usize| {
        let slots = layers[layer].slots.iter();
        let bridges = slots.flat_map(|s| s.islands.iter().flatten());
        bridges
            .filter(|b| b.kind == BeadKind::Bridge)
            .cloned()
            .collect::<Vec<_>>()
    };
    // Layer 20 is the first of the slab; nothing below or above hangs.
    let bridged: Vec<usize> = (0..layers.len())
        .filter(|l| !beads(*l).is_empty())
        .collect();
    assert_eq!(bridged, [20]);
    let [mut along, mut across] = [0.0, 0.0];
    for bead in beads(20) {
        for (a, b, _) in bead.stretches() {
            along += (a[0] - b[0]).abs();
            across += (a[1] - b[1]).abs();
        }
    }
    assert!(
        along > 10.0 * across,
        "{along} mm along, {across} mm across"
    );
    let fan = made.steps().windows(2).any(|w| {
        matches!(
            (&w[0], &w[1]),
            (
                Step::Fan { .. },
                Step::Lay {
                    kind: BeadKind::Bridge,
                    ..
                }
            )
        )
    });
    // It runs at full speed anyway by then, so that it need not be told.
    assert!(!fan);
}

/// A post with a plate on top that sticks out on one side alone, so that nothing holds its other end.
fn gallows(change: impl FnOnce(&mut Printer)) -> Made {
    let mut job = boxes(&[
        ([0.0, 0.0, 0.0], [6.0, 10.0, 6.0]),
        ([0.0, 0.0, 6.0], [30.0, 10.0, 8.0]),
    ]);
    change(&mut job.printer);
    Made::of(job)
}

#[test]
fn what_hangs_is_told_and_held_up_where_it_is_asked_for() {
    let bare = gallows(|_| ()).files();
    let told: Vec<usize> = bare.hanging.iter().map(|(layer, _)| *layer).collect();
    assert_eq!(told, [30]);
    // 24 × 10 mm stick out; half a line may.
    assert!(
        (bare.hanging[0].1 - 238.0).abs() < 4.0,
        "{} mm²",
        bare.hanging[0].1
    );
    let held = gallows(|p| p.printing.supports = true).files();
    assert!(held.hanging.is_empty(), "{:?}", held.hanging);
    let mut layers = BTreeSet::new();
    let mut layer = 0;
    let mut mm3 = 0.0;
    for step in &held.files[0].steps {
        match step {
            Step::Layer { index, .. } => layer = *index,
            Step::Lay {
                kind: BeadKind::Support,
                to,
                mm3: of,
                ..
            } => {
                layers.insert(layer);
                mm3 += of;
                let x = to[0] - held.shift[0];
                assert!(
                    x > 6.0 + 0.5 && x < 31.0,
                    "{x} mm: into the post, or beside it"
                );
            }
            _ => {}
        }
    }
    // From the bed up to one layer below what hangs.
    assert_eq!(layers, (0..29).collect());
    // A sixth of 24 × 10 × 6 mm, and the layers at both ends denser.
    assert!((180.0..400.0).contains(&mm3), "{mm3} mm³");
    let none = bridge_job().files();
    assert!(
        none.hanging.is_empty(),
        "a slab between two pillars is bridged"
    );
}

#[test]
fn tops_are_smoothed_last_and_with_hardly_any_plastic() {
    let mut job = boxes(&[([0.0, 0.0, 0.0], [20.0, 20.0, 2.0])]);
    job.printer.printing.smooth_tops = true;
    let files = Made::of(job).files();
    let (mut layer, mut mm3, mut is_last) = (0, 0.0, false);
    for step in &files.files[0].steps {
        match step {
            Step::Layer { index, .. } => layer = *index,
            Step::Lay { kind, mm3: of, .. } => {
                is_last = *kind == BeadKind::Smoothing;
                if is_last {
                    assert_eq!(layer, 9, "the last layer alone is a top");
                    mm3 += of;
                }
            }
            _ => {}
        }
    }
    assert!(is_last, "nothing comes after it");
    // A twelfth of 19.6 × 19.6 × 0.2 mm.
    assert_relative_eq!(mm3, 19.6 * 19.6 * 0.2 / 12.0, max_relative = 0.05);
}

#[test]
fn the_first_layer_is_drawn_in_and_gets_its_share() {
    let mut job = boxes(&[([0.0, 0.0, 0.0], [20.0, 20.0, 2.0])]);
    let usual = Made::of(job.clone()).files();
    job.printer.printing.foot_mm = 0.25;
    job.printer.printing.first_layer_flow = 0.9;
    job.printer.printing.first_layer_width = 1.25;
    let made = Made::of(job).files();
    let first = |files: &PrintFiles| {
        let (mut layer, mut mm3, mut low) = (0, 0.0, f64::INFINITY);
        for step in &files.files[0].steps {
            match step {
                Step::Layer { index, .. } => layer = *index,
                Step::Lay {
                    kind: BeadKind::Skirt | BeadKind::Prime,
                    ..
                } => {}
                Step::Lay {
                    to, mm3: of, width, ..
                } if layer == 0 => {
                    mm3 += of;
                    low = f64::min(low, to[0] - files.shift[0] - 0.5 * width);
                }
                _ => {}
            }
        }
        (mm3, low)
    };
    let ((mm3, low), (drawn_mm3, drawn_low)) = (first(&usual), first(&made));
    assert!(
        low.abs() < 0.02 && (drawn_low - 0.25).abs() < 0.02,
        "{low}, {drawn_low}"
    );
    assert_relative_eq!(mm3, 20.0 * 20.0 * 0.2, max_relative = 0.02);
    assert_relative_eq!(drawn_mm3, 0.9 * 19.5 * 19.5 * 0.2, max_relative = 0.02);
}

/// A tube, standing, solid all through.
fn tube(outer_mm: f64, thick_mm: f64) -> Made {
    const SIDES: u32 = 48;
    let ring = |radius: f64, z: f64| {
        (0..SIDES).map(move |i| {
            let turn = std::f64::consts::TAU * f64::from(i) / f64::from(SIDES);
            [radius * turn.cos(), radius * turn.sin(), z]
        })
    };
    let rings = [
        (outer_mm, 0.0),
        (outer_mm, 0.6),
        (outer_mm - thick_mm, 0.6),
        (outer_mm - thick_mm, 0.0),
    ];
    let vertices: Vec<[f64; 3]> = rings.iter().flat_map(|(r, z)| ring(*r, *z)).collect();
    let mut facets = Vec::new();
    for around in 0..4 {
        let (low, high) = (around * SIDES, (around + 1) % 4 * SIDES);
        for i in 0..SIDES {
            let j = (i + 1) % SIDES;
            facets.push([low + i, low + j, high + j]);
            facets.push([low + i, high + j, high + i]);
        }
    }
    let mesh = varichrom_core::mesh::Mesh { vertices, facets };
    let bytes = varichrom_demo::stl(&mesh, "tube");
    let (_, history) = crate::jobs_of::job_of(&[("tube", &bytes)]);
    let mut job = history.job().clone();
    job.printer.infill = 1.0;
    Made::of(job)
}

/// A ring has the same thickness all around, so that whatever is laid twice or left out at some thickness is so everywhere.
#[test]
fn tubes_are_laid_in_full_and_once_whatever_their_thickness() {
    for step in 0..48 {
        let thick_mm = 0.28 + 0.05 * f64::from(step);
        let made = tube(9.0, thick_mm);
        let layers = varichrom_core::handover::job_beads(&made.job, &made.planner, &|_| true);
        for layer in layers.expect("beads") {
            let beads = layer.slots.iter().flat_map(|s| s.islands.iter().flatten());
            let laid: f64 = beads.map(|b| b.ground_mm2()).sum();
            let area = layer.section.mm2();
            assert!(
                (laid / area - 1.0).abs() < 0.035,
                "{thick_mm} mm: {laid} of {area}"
            );
        }
    }
}
