//! Four signal tiles in one file, each a closed shell with raised devices. The devices are made up.

use super::{extrude, together};
use varichrom_core::mesh::Mesh;

const SIDE_MM: f64 = 30.0;
const GAP_MM: f64 = 6.0;
const PLATE_MM: f64 = 2.4;
const RAISED_MM: f64 = 3.4;

/// A place on top of each raised device.
pub const TILE_TOPS_MM: [[f64; 3]; 7] = [
    [15.0, 15.0, RAISED_MM],
    [51.0, 15.0, RAISED_MM],
    [15.0, 43.25, RAISED_MM],
    [15.0, 50.75, RAISED_MM],
    [15.0, 58.25, RAISED_MM],
    [51.0, 51.0, RAISED_MM],
    [45.6, 46.0, RAISED_MM],
];

type Outline = Vec<[f64; 2]>;

/// A disc; a cross; three bars; a lozenge in a chevron pair: 66 mm square together, 3.4 mm tall.
pub fn signal_tiles() -> Mesh {
    let devices: [Vec<Outline>; 4] = [
        vec![circle([15.0, 15.0], 8.0, 96)],
        vec![cross(15.0, 10.0, 3.0)],
        vec![bar(5.0, 6.0), bar(12.5, 6.0), bar(20.0, 6.0)],
        vec![
            vec![[15.0, 9.5], [20.5, 15.0], [15.0, 20.5], [9.5, 15.0]],
            vec![
                [4.0, 15.0],
                [10.5, 8.5],
                [10.5, 5.0],
                [15.0, 5.0],
                [5.5, 15.0],
                [15.0, 25.0],
            ]
            .into_iter()
            .chain([[10.5, 25.0], [10.5, 21.5]])
            .collect(),
        ],
    ];
    let tiles: Vec<Mesh> = devices
        .into_iter()
        .enumerate()
        .map(|(i, devices)| {
            let at = [
                (i % 2) as f64 * (SIDE_MM + GAP_MM),
                (i / 2) as f64 * (SIDE_MM + GAP_MM),
            ];
            let shifted = |o: &Outline| o.iter().map(|p| [p[0] + at[0], p[1] + at[1]]).collect();
            let border: Outline = shifted(&rounded_square(SIDE_MM, 3.0));
            let devices: Vec<Outline> = devices.iter().map(shifted).collect();
            extrude(&[border], &devices, 0.0, PLATE_MM, Some(RAISED_MM))
        })
        .collect();
    together(&tiles)
}

fn circle(centre: [f64; 2], radius: f64, sides: usize) -> Outline {
    (0..sides)
        .map(|i| {
            let a = std::f64::consts::TAU * i as f64 / sides as f64;
            [centre[0] + radius * a.cos(), centre[1] + radius * a.sin()]
        })
        .collect()
}

fn cross(c: f64, reach: f64, half: f64) -> Outline {
    let (r, h) = (reach, half);
    [
        [-h, -r],
        [h, -r],
        [h, -h],
        [r, -h],
        [r, h],
        [h, h],
        [h, r],
        [-h, r],
        [-h, h],
        [-r, h],
        [-r, -h],
        [-h, -h],
    ]
    .map(|p| [c + p[0], c + p[1]])
    .to_vec()
}

fn bar(y: f64, x: f64) -> Outline {
    vec![
        [x, y],
        [SIDE_MM - x, y],
        [SIDE_MM - x, y + 4.5],
        [x, y + 4.5],
    ]
}

fn rounded_square(side: f64, radius: f64) -> Outline {
    let corners = [
        [side - radius, side - radius],
        [radius, side - radius],
        [radius, radius],
        [side - radius, radius],
    ];
    let mut outline = Vec::new();
    for (quarter, centre) in corners.iter().enumerate() {
        for i in 0..=8 {
            let a = std::f64::consts::FRAC_PI_2 * (quarter as f64 + f64::from(i) / 8.0);
            outline.push([centre[0] + radius * a.cos(), centre[1] + radius * a.sin()]);
        }
    }
    outline
}
