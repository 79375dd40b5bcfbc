//! Raised faces right through: each is the box above its foot and nothing of what it stands on.

use crate::right_through::{
    UP, bodies_of, job, layers, of_layers, plate_with_block, through_relief, volumes,
};
use crate::shapes::mesh;
use approx::assert_relative_eq;
use varichrom_core::layers::LayerShare;
use varichrom_core::mesh::Mesh;

/// Boxes of 10 × 10 mm of some heights beside one another, one closed surface; the heights in rows, all multiples of `step`.
fn steps_of(rows: &[&[f64]], step: f64) -> Mesh {
    let height = |x: i64, y: i64| {
        let row = usize::try_from(y).ok().and_then(|y| rows.get(y));
        let cell = row.and_then(|row| usize::try_from(x).ok().and_then(|x| row.get(x)));
        cell.copied().unwrap_or(0.0)
    };
    let (mut points, mut facets) = (Vec::new(), Vec::new());
    let mut quad = |corners: [[f64; 3]; 4]| {
        let first = points.len() as u32;
        points.extend(corners);
        facets.extend([[first, first + 1, first + 2], [first, first + 2, first + 3]]);
    };
    for y in 0..rows.len() as i64 {
        for x in 0..rows[0].len() as i64 {
            let [x0, x1, y0, y1] = [x, x + 1, y, y + 1].map(|c| 10.0 * c as f64);
            let top = height(x, y);
            quad([[x0, y0, top], [x1, y0, top], [x1, y1, top], [x0, y1, top]]);
            quad([[x0, y0, 0.0], [x0, y1, 0.0], [x1, y1, 0.0], [x1, y0, 0.0]]);
            let sides = [
                (height(x + 1, y), [x1, y0], [x1, y1]),
                (height(x - 1, y), [x0, y1], [x0, y0]),
                (height(x, y + 1), [x1, y1], [x0, y1]),
                (height(x, y - 1), [x0, y0], [x1, y0]),
            ];
            // Step by step, so that walls meet corner to corner.
            for (low, [ax, ay], [bx, by]) in sides {
                let count = ((top - low) / step).round().max(0.0) as u32;
                for n in 0..count {
                    let [from, to] = [n, n + 1].map(|n| low + f64::from(n) * step);
                    quad([[ax, ay, from], [bx, by, from], [bx, by, to], [ax, ay, to]]);
                }
            }
        }
    }
    mesh(&points, &facets)
}

/// Which regions each layer has, told by the height of its middle.
fn told(found: &[LayerShare]) -> Vec<(f64, Vec<usize>)> {
    let middles = found.iter().map(|l| 0.5 * (l.z0_mm + l.z1_mm));
    middles.zip(of_layers(found)).collect()
}

#[test]
fn a_block_upon_a_block_is_a_box_each() {
    let mesh = steps_of(
        &[
            &[4.0; 5],
            &[4.0, 8.0, 8.0, 8.0, 4.0],
            &[4.0, 8.0, 12.0, 8.0, 4.0],
            &[4.0, 8.0, 8.0, 8.0, 4.0],
            &[4.0; 5],
        ],
        4.0,
    );
    let edits = [
        through_relief("blue", [15.0, 15.0, 8.0], UP, false),
        through_relief("red", [25.0, 25.0, 12.0], UP, false),
    ];
    let history = job(&mesh, &edits);
    let job = history.job();
    assert!(job.regions[1].depth.is_through() && job.regions[2].depth.is_through());
    let found = layers(job);
    for (z, regions) in told(&found) {
        let wanted = if z < 4.0 {
            0
        } else if z < 8.0 {
            2
        } else {
            1
        };
        assert!(regions == [wanted], "{z:.1} mm: {regions:?}");
    }
}

#[test]
fn a_wide_and_tall_block_on_a_thin_plate_holds_nothing_of_the_plate() {
    let tall = [2.0, 24.0, 24.0, 24.0, 24.0, 2.0];
    let mesh = steps_of(&[&[2.0; 6], &tall, &tall, &tall, &tall, &[2.0; 6]], 2.0);
    let history = job(
        &mesh,
        &[through_relief("red", [25.0, 25.0, 24.0], UP, false)],
    );
    for (z, regions) in told(&layers(history.job())) {
        assert!(regions == [usize::from(z > 2.0)], "{z:.1} mm: {regions:?}");
    }
}

#[test]
fn an_emblem_on_an_upright_wall_ends_with_its_own_walls() {
    // The plate with its block, stood on edge: the block sticks out sideways.
    let lying = plate_with_block();
    let upright = lying.vertices.iter().map(|[x, y, z]| [*z, *x, *y]);
    let mesh = mesh(&upright.collect::<Vec<_>>(), &lying.facets);
    let out = [1.0, 0.0, 0.0];
    let history = job(
        &mesh,
        &[through_relief("red", [7.0, 20.0, 15.0], out, false)],
    );
    let job = history.job();
    let red = volumes(&layers(job))[1];
    // Deep inside a border goes along whole cells: half a cell of half a line, over the foot of 10 × 8 mm.
    assert!((red - 240.0).abs() < 0.5 * 0.2 * 80.0, "{red} mm³");
    let made = bodies_of(job);
    let body = made.bodies.iter().find(|b| b.number == 1).expect("red");
    assert_relative_eq!(body.volume_mm3, 240.0, max_relative = 1e-6);
}

#[test]
fn seven_raised_blocks_of_a_plate_take_one_swap_after_one_click() {
    let raised: Vec<f64> = (0..15)
        .map(|x| if x % 2 == 1 { 8.0 } else { 4.0 })
        .collect();
    let mesh = steps_of(&[&[4.0; 15], &raised, &[4.0; 15]], 4.0);
    let history = job(&mesh, &[through_relief("red", [15.0, 15.0, 8.0], UP, true)]);
    let job = history.job();
    assert!(job.models[0].open.parts.len() == 1 && job.models[0].open.parts[0].is_closed);
    let found = layers(job);
    assert_relative_eq!(volumes(&found)[1], 7.0 * 400.0, max_relative = 2e-3);
    let regions = of_layers(&found);
    assert!(regions.iter().all(|r| r.len() == 1), "{regions:?}");
    assert!(regions.windows(2).filter(|w| w[0] != w[1]).count() == 1);
    // Out as seven boxes in one body of red.
    let made = bodies_of(job);
    let red = made.bodies.iter().find(|b| b.number == 1).expect("red");
    assert_relative_eq!(red.volume_mm3, 2800.0, max_relative = 1e-6);
}
