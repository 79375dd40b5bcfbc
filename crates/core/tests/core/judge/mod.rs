//! Solids as a second judge and plain counting see them, and how often a law is tried.

use parry3d::shape::{Shape, TriMesh};
use proptest::prelude::ProptestConfig;
use varichrom_core::geometry::facet_normal;
use varichrom_core::mesh::Mesh;
use varichrom_core::solids::Solid;
use varichrom_demo::box_mesh;

/// How often a law is tried: as often as it says, or so many times as often as `VARICHROM_LAWS` says.
pub(crate) fn cases(cases: u32) -> ProptestConfig {
    let times = std::env::var("VARICHROM_LAWS").ok();
    let times = times.and_then(|t| t.parse::<u32>().ok()).unwrap_or(1);
    let usual = ProptestConfig::default();
    ProptestConfig {
        cases: cases.saturating_mul(times),
        max_global_rejects: usual.max_global_rejects.saturating_mul(times),
        ..usual
    }
}

pub(crate) fn solid(mesh: &Mesh) -> Solid {
    Solid::plain(mesh.clone())
}

pub(crate) fn cube(size: f64) -> Solid {
    solid(&box_mesh([0.0; 3], [size; 3]))
}

pub(crate) fn always(_: f64) -> bool {
    true
}

/// Facets that face a direction.
pub(crate) fn facing(s: &Solid, way: [f64; 3]) -> Vec<bool> {
    (0..s.mesh.facets.len())
        .map(|f| {
            facet_normal(&s.corners(f))
                .is_some_and(|n| (0..3).map(|i| n[i] * way[i]).sum::<f64>() > 0.99)
        })
        .collect()
}

/// Volume by `parry3d`, and closedness by its reading of the surface as an oriented solid.
pub(crate) fn judged(s: &Solid) -> f64 {
    s.check().unwrap();
    let points = s
        .mesh
        .vertices
        .iter()
        .map(|p| parry3d::math::Vector::new(p[0], p[1], p[2]));
    let mesh = TriMesh::new(points.collect(), s.mesh.facets.clone()).unwrap();
    mesh.mass_properties(1.0).mass()
}

pub(crate) fn assert_near(found: f64, wanted: f64, relative: f64) {
    assert!(
        (found - wanted).abs() <= relative * wanted.abs(),
        "{found} instead of {wanted}"
    );
}

/// Euler's number of a surface: vertices − edges + facets.
pub(crate) fn euler(s: &Solid) -> i64 {
    s.mesh.vertices.len() as i64 - s.mesh.facets.len() as i64 * 3 / 2 + s.mesh.facets.len() as i64
}

/// Area of a facet, mm².
pub(crate) fn area(s: &Solid, f: usize) -> f64 {
    varichrom_core::geometry::facet_area(&s.corners(f))
}
