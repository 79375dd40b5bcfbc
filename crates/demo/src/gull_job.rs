//! How the shop colours its gull: by strokes alone.

use super::gull;
use super::shop::{load, named, region};
use varichrom_core::job::{Edit, GiveEdit};
use varichrom_core::mesh::{FacetTree, Mesh};
use varichrom_core::regions::{Reach, Stroke};

/// Strokes of one kind along both sides of the bird, given for its left side.
struct Strokes {
    region: &'static str,
    reach: Reach,
    radius_mm: f64,
    /// Places near the surface, mm; y counts outward.
    path: &'static [[f64; 3]],
    /// Whether the other side gets the same.
    is_double: bool,
}

const STROKES: [Strokes; 14] = [
    // The stone first: everything else is painted over it.
    dip("stone", 7.0, &[[14.0, 5.0, 1.0], [-12.0, 9.0, 1.0]], true),
    dip("stone", 7.5, &[[14.0, 0.0, 1.0], [-15.0, 0.0, 1.0]], false),
    dip(
        "stone",
        4.6,
        &[[13.0, 4.0, 7.5], [4.0, 9.0, 7.5], [-8.0, 9.0, 7.0]],
        true,
    ),
    dip(
        "stone",
        4.6,
        &[[12.0, 0.0, 8.0], [0.0, 0.0, 8.0], [-14.0, 0.0, 7.0]],
        false,
    ),
    dip("legs", 3.2, &[[3.0, 4.2, 9.5], [3.0, 4.0, 14.2]], true),
    // Mantle: back and wings.
    dip(
        "mantle",
        4.2,
        &[[6.0, 10.6, 29.5], [0.0, 11.6, 29.0], [-8.0, 11.5, 27.0]],
        true,
    ),
    dip(
        "mantle",
        5.2,
        &[[3.0, 4.0, 35.0], [-6.0, 4.0, 33.5], [-13.0, 3.0, 30.0]],
        true,
    ),
    // Wing tips and the band of the tail.
    dip(
        "dark",
        3.4,
        &[[-13.0, 11.0, 25.0], [-17.0, 10.4, 24.0], [-20.5, 9.6, 23.0]],
        true,
    ),
    dip("dark", 2.6, &[[-27.0, 4.0, 22.5], [-27.5, 0.0, 22.5]], true),
    dab(
        "mantle",
        1.3,
        &[[-5.0, 11.4, 22.2], [-11.0, 11.2, 21.6]],
        true,
    ),
    // Beak with a dark tip, and the eyes.
    dip("legs", 3.9, &[[25.0, 0.0, 42.5], [30.0, 0.0, 41.6]], false),
    dip("dark", 1.5, &[[30.6, 0.0, 41.6]], false),
    dab("dark", 0.95, &[[19.6, 4.2, 45.0]], true),
    // A little slate on the crown, as winter gulls have.
    dab("mantle", 0.7, &[[15.6, 3.4, 47.8], [13.0, 4.2, 46.0]], true),
];

const fn dip(
    region: &'static str,
    radius_mm: f64,
    path: &'static [[f64; 3]],
    is_double: bool,
) -> Strokes {
    Strokes {
        region,
        reach: Reach::Dip,
        radius_mm,
        path,
        is_double,
    }
}

const fn dab(
    region: &'static str,
    radius_mm: f64,
    path: &'static [[f64; 3]],
    is_double: bool,
) -> Strokes {
    Strokes {
        reach: Reach::Dab,
        ..dip(region, radius_mm, path, is_double)
    }
}

/// The edits that colour the gull.
pub(super) fn gull_edits(model: &str) -> Vec<Edit> {
    let mesh: Mesh = gull();
    let tree = FacetTree::build(&mesh, 0..mesh.facets.len() as u32);
    let mut edits = load(&["chalk", "slate", "soot", "amber"]);
    edits.extend(named("Feathers", [0xee, 0xe7, 0xd6]));
    edits.extend([
        region("mantle", "Mantle", [0x8a, 0x93, 0x9b], 2),
        region("stone", "Quay stone", [0x8a, 0x93, 0x9b], 2),
        region("dark", "Wing tips and eyes", [0x17, 0x17, 0x18], 3),
        region("legs", "Beak and legs", [0xd9, 0xa3, 0x41], 4),
    ]);
    for strokes in &STROKES {
        let sides: &[f64] = if strokes.is_double {
            &[1.0, -1.0]
        } else {
            &[1.0]
        };
        for side in sides {
            let path: Vec<[f64; 3]> = strokes
                .path
                .iter()
                .map(|[x, y, z]| [*x, side * y, *z])
                .filter_map(|p| tree.nearest(p, f64::INFINITY))
                .map(|n| n.point)
                .collect();
            let eye = [20.0, side * 150.0, 90.0];
            edits.push(Edit::Give(GiveEdit::GiveStroke {
                region: strokes.region.into(),
                reach: strokes.reach,
                stroke: Stroke {
                    model: model.into(),
                    path,
                    radius_mm: strokes.radius_mm,
                    eye,
                },
            }));
        }
    }
    edits
}
