//! The survey's nearest facets against the box tree, which looks for each cell by itself.

use crate::judge::cases;
use proptest::prelude::*;
use std::sync::Arc;
use varichrom_core::layers::{Body, Settings, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::{FacetTree, Mesh};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{
    box_mesh, float_in_ring, gull, stl, subdivided_sphere, tide_plaque, together,
};

const REACH_MM: f64 = 0.8;

/// Every cell of a mesh's survey has the facet and distance that the tree finds, and no cell within reach is missing.
fn agrees(mesh: &Mesh, line_width_mm: f64) {
    let open = Arc::new(OpenMesh::from_bytes(&stl(mesh, "shape")).expect("sound"));
    let settings = Settings {
        line_width_mm,
        ..Settings::from(&Printer::default())
    };
    let shift = [1.7, -0.3, 0.05 - open.mesh.bounds().min[2]];
    let bodies: Vec<Body> = (0..open.parts.len() as u32)
        .map(|part| Body {
            model: 0,
            open: open.clone(),
            part,
            shift,
        })
        .collect();
    let found = survey(bodies, settings, REACH_MM, &|_| true).expect("not stopped");
    let near_mm = REACH_MM + 0.5 * found.grid.step_mm;
    let across = found.grid.cells[0];
    let mut looked = 0;
    let mut higher: Vec<FacetTree> = Vec::new();
    for part in 0..open.parts.len() as u32 {
        let own = (0..open.mesh.facets.len() as u32).filter(|f| open.part_of[*f as usize] == part);
        let tree = FacetTree::build(&open.mesh, own);
        // Big prints are looked at in places only.
        let step = (found.heights.spans.len() / 12).max(1);
        for layer in (0..found.heights.spans.len()).step_by(step) {
            let middle = |at: usize| {
                let [x, y] = found.grid.centre(at % across, at / across);
                [
                    x - shift[0],
                    y - shift[1],
                    found.heights.sample(layer) - shift[2],
                ]
            };
            let mut is_listed = vec![false; across * found.grid.cells[1]];
            for (_, cell) in found.cells(layer).filter(|(body, _)| *body == part) {
                is_listed[cell.at as usize] = true;
                let p = middle(cell.at as usize);
                let wanted = tree.nearest(p, near_mm).expect("it is listed");
                let off = wanted.distance2.sqrt();
                assert!(
                    cell.facet == wanted.facet && cell.distance_mm == off as f32,
                    "layer {layer}, {p:?}: facet {} at {}, the tree has {} at {off}",
                    cell.facet,
                    cell.distance_mm,
                    wanted.facet
                );
                looked += 1;
            }
            for at in (0..is_listed.len()).step_by(7).filter(|at| !is_listed[*at]) {
                let p = middle(at);
                // Well inside its cell's outline, not where half a cell is covered.
                let is_near = tree
                    .nearest(p, near_mm)
                    .is_some_and(|n| n.distance2.sqrt() > found.grid.step_mm);
                // What a higher part holds is not the lower one's.
                let is_taken = || higher.iter().any(|h: &FacetTree| h.is_inside(p, |_| true));
                assert!(
                    !is_near || !tree.is_inside(p, |_| true) || is_taken(),
                    "layer {layer}, {p:?} is missing"
                );
            }
        }
        higher.push(tree);
    }
    assert!(looked > 100, "{looked}");
}

#[test]
fn of_boxes_letters_rings_and_balls() {
    agrees(&box_mesh([0.0; 3], [9.0, 7.0, 3.0]), 0.42);
    agrees(&tide_plaque(), 0.9);
    agrees(&float_in_ring(), 0.9);
    for splits in 0..=5 {
        agrees(&subdivided_sphere(6.0, splits), 0.42);
    }
    // Facets as flat to one another as those of a large model.
    agrees(&subdivided_sphere(3.0, 7), 0.42);
}

#[test]
fn of_something_organic() {
    agrees(&gull(), 0.9);
}

#[test]
fn of_shells_that_overlap_and_of_a_hole() {
    let block = box_mesh([0.0; 3], [8.0, 8.0, 4.0]);
    agrees(&together(&[block.clone(), subdivided_sphere(4.0, 3)]), 0.42);
    let mut torn = subdivided_sphere(5.0, 3);
    torn.facets.drain(100..140);
    agrees(&torn, 0.42);
}

/// A plate whose top is a field of hills and dents, some of them sharp.
fn hills(heights: &[f64], across: usize, step_mm: f64) -> Mesh {
    let along = heights.len() / across;
    let at = |x: usize, y: usize| (y * across + x) as u32;
    let count = (across * along) as u32;
    let mut vertices: Vec<[f64; 3]> = Vec::new();
    for floor in [false, true] {
        for y in 0..along {
            for x in 0..across {
                let z = if floor {
                    0.0
                } else {
                    1.0 + heights[y * across + x]
                };
                vertices.push([x as f64 * step_mm, y as f64 * step_mm, z]);
            }
        }
    }
    let mut facets = Vec::new();
    for y in 0..along - 1 {
        for x in 0..across - 1 {
            let [a, b, c, d] = [at(x, y), at(x + 1, y), at(x + 1, y + 1), at(x, y + 1)];
            facets.extend([[a, b, c], [a, c, d]]);
            facets.extend(
                [a, b, c, d]
                    .map(|v| v + count)
                    .chunks_exact(4)
                    .flat_map(|q| [[q[2], q[1], q[0]], [q[3], q[2], q[0]]]),
            );
        }
    }
    let mut rim: Vec<u32> = (0..across - 1).map(|x| at(x, 0)).collect();
    rim.extend((0..along - 1).map(|y| at(across - 1, y)));
    rim.extend((1..across).rev().map(|x| at(x, along - 1)));
    rim.extend((1..along).rev().map(|y| at(0, y)));
    for (i, a) in rim.iter().enumerate() {
        let b = rim[(i + 1) % rim.len()];
        facets.extend([[*a, a + count, b + count], [*a, b + count, b]]);
    }
    Mesh { vertices, facets }
}

proptest! {
    #![proptest_config(cases(40))]

    #[test]
    fn of_hills_and_dents(
        heights in prop::collection::vec(0.0..1.0f64, 49),
        (steep, step_mm) in (prop_oneof![Just(0.01), Just(0.05), Just(0.3), Just(2.0)], 0.15..1.5f64),
    ) {
        let heights: Vec<f64> = heights.iter().map(|h| steep * h).collect();
        agrees(&hills(&heights, 7, step_mm), 0.42);
    }
}
