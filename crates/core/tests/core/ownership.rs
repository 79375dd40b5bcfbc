//! The ownership rule against a slow and obvious oracle: every facet looked at, for every point.

use crate::shapes::bodies;
use rstest::rstest;
use std::sync::Arc;
use varichrom_core::carve::Labels;
use varichrom_core::layers::{CellKind, Claims, Settings, draw_layer, label, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::{Mesh, closest_point, cross, dot, sub};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, float_in_ring, signal_tiles, subdivided_sphere, together};

fn bunny() -> OpenMesh {
    OpenMesh::from_bytes(include_bytes!("data/bunny.stl")).expect("the bunny opens")
}

fn facets_of(open: &OpenMesh, part: u32) -> Vec<u32> {
    (0..open.mesh.facets.len() as u32)
        .filter(|f| open.part_of[*f as usize] == part)
        .collect()
}

/// Whether a point is inside a closed part: its solid angle is 4π inside and 0 outside.
/// Van Oosterom and Strackee, "The Solid Angle of a Plane Triangle", 1983.
fn is_inside(open: &OpenMesh, part: u32, p: [f64; 3]) -> bool {
    let mut angle = 0.0;
    for facet in facets_of(open, part) {
        let [a, b, c] = open.mesh.corners(facet).map(|q| sub(q, p));
        let [la, lb, lc] = [a, b, c].map(|v| dot(v, v).sqrt());
        let top = dot(a, cross(b, c));
        let bottom = la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb;
        angle += 2.0 * top.atan2(bottom);
    }
    angle > 2.0 * std::f64::consts::PI
}

/// Distances from a point to the nearest facet of each label of a part.
fn distances(open: &OpenMesh, part: u32, labels: &[Option<u16>], p: [f64; 3]) -> Vec<(u16, f64)> {
    let mut best: Vec<(u16, f64)> = Vec::new();
    for facet in facets_of(open, part) {
        let region = labels[facet as usize].unwrap_or(part as u16);
        let d = sub(p, closest_point(p, &open.mesh.corners(facet)));
        let d = dot(d, d).sqrt();
        match best.iter_mut().find(|b| b.0 == region) {
            Some(b) => b.1 = b.1.min(d),
            None => best.push((region, d)),
        }
    }
    best.sort_by(|a, b| a.1.total_cmp(&b.1));
    best
}

/// Labels that follow nothing of the shape's order: region 2 or 3 on patches of about a third of the facets each.
fn patchwork(open: &OpenMesh, pitch: f64) -> Vec<Option<u16>> {
    (0..open.mesh.facets.len() as u32)
        .map(|f| {
            let [a, b, c] = open.mesh.corners(f);
            let middle = [0, 1, 2].map(|i| (a[i] + b[i] + c[i]) / 3.0 / pitch);
            let cell: i64 = middle.iter().map(|m| m.floor() as i64).sum();
            match cell.rem_euclid(3) {
                0 => None,
                n => Some(n as u16 + 1),
            }
        })
        .collect()
}

const SOAK_MM: [f64; 4] = [0.8, 0.8, 1.1, 0.5];

#[rstest]
#[case::box_of_twelve_facets(crate::shapes::open(&box_mesh([0.0; 3], [12.0, 9.0, 6.0])), 4.0)]
#[case::sphere(crate::shapes::open(&subdivided_sphere(6.0, 3)), 3.0)]
#[case::bunny(bunny(), 9.0)]
#[case::two_parts(crate::shapes::open(&together(&[
    box_mesh([0.0; 3], [6.0, 8.0, 5.0]), box_mesh([4.0, 2.0, 0.0], [10.0, 6.0, 5.0]),
])), 3.0)]
fn every_drawn_cell_belongs_to_whom_the_rule_says(#[case] open: OpenMesh, #[case] pitch: f64) {
    let open = Arc::new(open);
    let labels = patchwork(&open, pitch);
    let held = Labels::of(labels.clone());
    let all = bodies(&open);
    let (count, lift) = (all.len(), all[0].shift[2]);
    let found = survey(all, Settings::from(&Printer::default()), 1.6, &|_| true).expect("runs");
    let claims = Claims {
        labels: vec![&held; count],
        own: (0..count as u16).collect(),
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm: SOAK_MM.to_vec(),
        slot_of: Vec::new(),
    };
    let layers = found.heights.spans.len();
    let mut compared = 0;
    for index in [1, layers / 3, layers / 2, layers - 2] {
        let drawing = draw_layer(&found, &claims, index).expect("a layer");
        let z = 0.5 * (drawing.z0_mm + drawing.z1_mm) - lift;
        let cells: Vec<(u16, CellKind)> = drawing
            .runs
            .iter()
            .flat_map(|r| std::iter::repeat_n((r.region, r.kind), r.count as usize))
            .collect();
        assert_eq!(cells.len(), drawing.cells[0] * drawing.cells[1]);
        // A prime stride visits all columns and rows in turn.
        for at in (0..cells.len()).step_by(997) {
            let cell = [at % drawing.cells[0], at / drawing.cells[0]];
            let middle = |i: usize| drawing.origin[i] + (cell[i] as f64 + 0.5) * drawing.step_mm;
            let p = [middle(0), middle(1), z];
            let owner = (0..count as u32).find(|part| is_inside(&open, *part, p));
            let edge = (0..count as u32)
                .map(|part| distances(&open, part, &labels, p)[0].1)
                .fold(f64::INFINITY, f64::min);
            let Some(part) = owner else {
                // A cell whose middle is just outside may still be inside by a sliver.
                assert!(
                    cells[at].1 == CellKind::Empty || edge < drawing.step_mm,
                    "{p:?}"
                );
                continue;
            };
            let nearest = distances(&open, part, &labels, p);
            let soak = SOAK_MM[nearest[0].0 as usize];
            let expected = if nearest[0].1 <= soak {
                nearest[0].0
            } else {
                part as u16
            };
            let is_tie = nearest.get(1).is_some_and(|n| n.1 - nearest[0].1 < 1e-6);
            // On the very end of the soak and within a cell of another part's wall either answer is right.
            if is_tie || (nearest[0].1 - soak).abs() < 1e-3 || edge < drawing.step_mm {
                continue;
            }
            assert_eq!(cells[at].0, expected, "layer {index} at {p:?}: {nearest:?}");
            compared += 1;
        }
    }
    assert!(compared > 60, "only {compared} cells compared");
}

#[rstest]
#[case::tiles(signal_tiles())]
#[case::float(float_in_ring())]
fn the_drawing_and_the_figures_of_a_layer_agree(#[case] mesh: Mesh) {
    let open = Arc::new(crate::shapes::open(&mesh));
    let labels = patchwork(&open, 11.0);
    let held = Labels::of(labels.clone());
    let all = bodies(&open);
    let count = all.len();
    let found = survey(all, Settings::from(&Printer::default()), 1.6, &|_| true).expect("runs");
    let claims = Claims {
        labels: vec![&held; count],
        own: vec![0; count],
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm: SOAK_MM.to_vec(),
        slot_of: Vec::new(),
    };
    let figures = label(&found, &claims);
    for index in [0, figures.len() / 2, figures.len() - 1] {
        let drawing = draw_layer(&found, &claims, index).expect("a layer");
        for (region, share) in figures[index].regions.iter().enumerate() {
            let cells: u32 = drawing
                .runs
                .iter()
                .filter(|r| r.kind != CellKind::Empty && usize::from(r.region) == region)
                .map(|r| r.count)
                .sum();
            let drawn = f64::from(cells) * drawing.step_mm * drawing.step_mm;
            // Cells on a border count whole in the drawing and in part in the figures.
            let whole: f64 = figures[index].regions.iter().map(|r| r.area_mm2).sum();
            assert!(
                (drawn - share.area_mm2).abs() < 0.05 * whole + 1.0,
                "region {region} of {index}"
            );
        }
        for ring in &drawing.outlines {
            assert!(ring.len() >= 3 && ring.first() != ring.last());
        }
    }
    assert!(draw_layer(&found, &claims, figures.len()).is_none());
}
