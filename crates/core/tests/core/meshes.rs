//! Opening meshes: measures against formulas and another library, parts, defects, and bad bytes.

use crate::judge::cases;
use crate::shapes::{count, mesh, open, platonic};
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use varichrom_core::formats::read_stl;
use varichrom_core::mesh::{DefectKind, Mesh};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{
    box_mesh, float_in_ring, pier_light, signal_tiles, subdivided_sphere, together,
};

/// STL rounds coordinates to 32-bit floats: 2⁻²⁴ relative, a few times over in a product of three.
const FLOAT32: f64 = 1e-6;

#[test]
fn platonic_solids_have_their_volumes_areas_and_faces() {
    for (name, solid, faces, volume, area) in platonic(10.0) {
        let open = open(&solid);
        assert!(
            open.is_closed() && open.defects.is_empty(),
            "{name}: {:?}",
            open.defects
        );
        assert_relative_eq!(open.volume_mm3(), volume, max_relative = FLOAT32);
        assert_relative_eq!(open.area_mm2(), area, max_relative = FLOAT32);
        let patches = open.creases().partition(&open.topology, 5.0);
        assert_eq!(patches.count as usize, faces, "{name}");
        // Euler–Poincaré for a closed body of genus 0: V − E + F = 2, with 3 F = 2 E.
        let (v, f) = (
            open.mesh.vertices.len() as i64,
            open.mesh.facets.len() as i64,
        );
        assert_eq!(v - 3 * f / 2 + f, 2, "{name}");
    }
}

/// Dihedral angles of the regular polyhedra (textbook): the crease angle that joins faces is 180° less the dihedral.
#[rstest]
#[case("tetrahedron", (1f64 / 3.0).acos().to_degrees())]
#[case("cube", 90.0)]
#[case("octahedron", (-1f64 / 3.0).acos().to_degrees())]
#[case("dodecahedron", (-1.0 / 5f64.sqrt()).acos().to_degrees())]
#[case("icosahedron", (-(5f64.sqrt()) / 3.0).acos().to_degrees())]
fn patches_part_exactly_at_the_dihedral_angle(#[case] name: &str, #[case] dihedral: f64) {
    let all = platonic(10.0);
    let (_, solid, faces, _, _) = all.iter().find(|s| s.0 == name).expect("one of the five");
    let open = open(solid);
    let count = |deg: f64| open.creases().partition(&open.topology, deg).count as usize;
    let turn = 180.0 - dihedral;
    assert_eq!(count(turn - 0.1), *faces);
    assert_eq!(count(turn + 0.1), 1);
}

/// Stanford bunny (the Stanford 3D Scanning Repository, by the npm package `bunny` 1.0.1), as binary STL.
fn bunny() -> OpenMesh {
    let bytes = include_bytes!("data/bunny.stl");
    OpenMesh::from_bytes(bytes).expect("the bunny opens")
}

#[test]
fn bunny_agrees_with_parry() {
    use parry3d::shape::{Shape, TriMesh};
    let open = bunny();
    let points: Vec<parry3d::math::Vector> = open
        .mesh
        .vertices
        .iter()
        .map(|v| parry3d::math::Vector::new(v[0], v[1], v[2]))
        .collect();
    let other = TriMesh::new(points, open.mesh.facets.clone()).expect("a sound mesh");
    assert_eq!(open.parts.len(), 1);
    assert!(open.is_closed());
    let box_of = other.compute_local_aabb();
    let size = open.mesh.bounds().size();
    assert_relative_eq!(size[0], box_of.maxs.x - box_of.mins.x, max_relative = 1e-12);
    assert_relative_eq!(
        open.volume_mm3(),
        other.mass_properties(1.0).mass(),
        max_relative = 1e-9
    );
    let area: f64 = other.triangles().map(|t| t.area()).sum();
    assert_relative_eq!(open.area_mm2(), area, max_relative = 1e-9);
}

#[test]
fn torus_and_sphere_obey_pappus_and_archimedes() {
    let open = open(&float_in_ring());
    assert_eq!(open.parts.len(), 2);
    // Both stand on a flat 0.35 mm high: a cap off the sphere (Archimedes), a circle segment off the torus's section
    // (Pappus, with the segment's middle taken on the middle line). The facets lie a little inside the round shapes.
    let pi = std::f64::consts::PI;
    let cap = pi * 0.35f64.powi(2) * (3.0 * 14.0 - 0.35) / 3.0;
    let half = (1.0 - 0.35 / 6.0f64).acos();
    let segment = 36.0 * (half - half.sin() * half.cos());
    let sphere = 4.0 / 3.0 * pi * 14f64.powi(3) - cap;
    let torus = 2.0 * pi * 19.2 * (pi * 36.0 - segment);
    assert_relative_eq!(
        open.parts[0].measures.volume_mm3,
        sphere,
        max_relative = 2.5e-3
    );
    assert_relative_eq!(
        open.parts[1].measures.volume_mm3,
        torus,
        max_relative = 2.5e-3
    );
}

#[test]
fn demo_models_are_closed_and_in_the_expected_parts() {
    let light = open(&pier_light());
    assert!(
        light.mesh.facets.len() >= 30_000,
        "{}",
        light.mesh.facets.len()
    );
    for (model, parts) in [(pier_light(), 1), (signal_tiles(), 4), (float_in_ring(), 2)] {
        let open = open(&model);
        assert_eq!(open.parts.len(), parts);
        assert!(open.is_closed());
        assert_eq!(open.defects, []);
        assert!(open.parts.iter().all(|p| p.measures.volume_mm3 > 0.0));
    }
}

#[rstest]
#[case::share_a_face([10.0, 0.0, 0.0])]
#[case::touch_along_an_edge([10.0, 10.0, 0.0])]
#[case::touch_at_a_corner([10.0, 10.0, 10.0])]
#[case::stand_on_each_other([0.0, 0.0, 10.0])]
fn closed_shells_that_touch_stay_two_parts(#[case] shift: [f64; 3]) {
    let other = box_mesh(shift, shift.map(|c| c + 10.0));
    let open = open(&together(&[box_mesh([0.0; 3], [10.0; 3]), other]));
    assert_eq!(open.parts.len(), 2);
    for part in &open.parts {
        assert!(part.is_closed);
        assert_relative_eq!(part.measures.volume_mm3, 1000.0, max_relative = FLOAT32);
    }
}

#[test]
fn a_cavity_belongs_to_its_part_and_an_enclosed_part_is_listed() {
    let outer = box_mesh([0.0; 3], [20.0; 3]);
    let mut hole = box_mesh([5.0; 3], [15.0; 3]);
    for facet in &mut hole.facets {
        facet.swap(1, 2);
    }
    let inner = box_mesh([7.0; 3], [13.0; 3]);
    let open = open(&together(&[outer, hole, inner]));
    assert_eq!(open.parts.len(), 2);
    assert_relative_eq!(
        open.parts[0].measures.volume_mm3,
        7000.0,
        max_relative = FLOAT32
    );
    assert_eq!(open.parts[0].encloses, [1]);
    assert!(open.defects.is_empty(), "{:?}", open.defects);
}

#[test]
fn every_kind_of_defect_is_counted_and_the_mesh_still_opens() {
    let mut holed = box_mesh([0.0; 3], [10.0; 3]);
    holed.facets.pop();
    let open_edges = open(&holed);
    assert_eq!(count(&open_edges, DefectKind::OpenEdge), 3);
    assert!(!open_edges.is_closed());

    let mut inside_out = box_mesh([0.0; 3], [10.0; 3]);
    inside_out.facets.iter_mut().for_each(|f| f.swap(0, 1));
    assert_eq!(count(&open(&inside_out), DefectKind::InsideOutPart), 1);

    let mut turned = box_mesh([0.0; 3], [10.0; 3]);
    turned.facets[0].swap(0, 1);
    assert_eq!(count(&open(&turned), DefectKind::TurnedFacet), 3);

    let mut doubled = box_mesh([0.0; 3], [10.0; 3]);
    doubled.facets.push(doubled.facets[3]);
    let doubled = open(&doubled);
    assert_eq!(count(&doubled, DefectKind::DuplicateFacet), 1);
    assert_eq!(count(&doubled, DefectKind::CrowdedEdge), 3);

    let mut collapsed = box_mesh([0.0; 3], [10.0; 3]);
    collapsed.facets.push([0, 0, 1]);
    let collapsed = open(&collapsed);
    assert_eq!(count(&collapsed, DefectKind::DegenerateFacet), 1);
    assert_eq!(
        collapsed.defects[0].first_at,
        [10.0 / 3.0, 0.0, 0.0].map(|c: f64| c)
    );
}

#[test]
fn a_box_of_twelve_facets_and_a_dense_sphere_both_find_their_patches() {
    let coarse = open(&box_mesh([0.0; 3], [30.0, 20.0, 10.0]));
    assert_eq!(coarse.creases().partition(&coarse.topology, 30.0).count, 6);
    let dense = open(&subdivided_sphere(20.0, 5));
    assert_eq!(dense.creases().partition(&dense.topology, 30.0).count, 1);
}

#[test]
fn flooding_from_a_seed_takes_exactly_its_patch_of_the_partition() {
    let open = open(&pier_light());
    for crease in [1.0, 12.0, 30.0, 89.0] {
        let partition = open.creases().partition(&open.topology, crease);
        for seed in (0..open.mesh.facets.len() as u32).step_by(2713) {
            let flood = open.creases().flood(&open.topology, seed, crease);
            let patch = partition.patch_of[seed as usize];
            let expected: Vec<u32> = (0..open.mesh.facets.len() as u32)
                .filter(|f| partition.patch_of[*f as usize] == patch)
                .collect();
            assert_eq!(flood, expected);
        }
    }
}

#[test]
fn nearest_facet_agrees_with_looking_at_all() {
    use varichrom_core::mesh::{FacetTree, closest_point, dot, sub};
    let open = bunny();
    let facets = 0..open.mesh.facets.len() as u32;
    let tree = FacetTree::build(&open.mesh, facets.clone());
    let b = open.mesh.bounds();
    for i in 0..200u32 {
        // A spread of points from the golden ratio and its kin, no randomness needed.
        let t = [0.618_034, 0.754_878, 0.569_840].map(|g: f64| (g * f64::from(i)).fract());
        let p = [0, 1, 2].map(|a| b.min[a] + t[a] * (b.max[a] - b.min[a]));
        let slow = facets
            .clone()
            .map(|f| {
                let d = sub(p, closest_point(p, &open.mesh.corners(f)));
                dot(d, d)
            })
            .fold(f64::INFINITY, f64::min);
        let found = tree.nearest(p, 1e6).expect("within reach");
        // Of facets equally near in 32 bits the most level one is taken.
        assert!((found.distance2 - slow).abs() <= 2e-7 * slow);
    }
}

fn ascii(solids: &[(&str, &Mesh)]) -> String {
    use std::fmt::Write;
    let mut text = String::new();
    for (name, mesh) in solids {
        writeln!(text, "solid {name}").expect("text");
        for f in 0..mesh.facets.len() as u32 {
            text.push_str("facet normal 0 0 0\n outer loop\n");
            for [x, y, z] in mesh.corners(f) {
                writeln!(text, "  vertex {x:e} {y:e} {z:e}").expect("text");
            }
            text.push_str(" endloop\nendfacet\n");
        }
        writeln!(text, "endsolid {name}").expect("text");
    }
    text
}

#[test]
fn text_stl_with_several_solids_gives_named_parts() {
    let (a, b) = (
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([20.0; 3], [25.0; 3]),
    );
    let text = ascii(&[("foot plate", &a), ("cap", &b)]);
    for text in [
        text.clone(),
        text.replace('\n', "\r\n"),
        text.to_uppercase(),
    ] {
        let open = OpenMesh::from_bytes(text.as_bytes()).expect("sound text");
        assert_eq!(open.origin.format, "STL, text");
        assert_eq!(open.parts.len(), 2);
        let names: Vec<_> = open
            .part_names
            .iter()
            .flatten()
            .map(|n| n.to_lowercase())
            .collect();
        assert_eq!(names, ["foot plate", "cap"]);
        assert_relative_eq!(open.volume_mm3(), 1125.0, max_relative = FLOAT32);
    }
}

#[test]
fn binary_stl_that_begins_with_the_word_solid_is_still_binary() {
    let mut bytes = varichrom_demo::stl(&box_mesh([0.0; 3], [1.0; 3]), "x");
    bytes[..5].copy_from_slice(b"solid");
    assert_eq!(
        OpenMesh::from_bytes(&bytes).expect("binary").origin.format,
        "STL, binary"
    );
}

fn broken(change: impl Fn(&mut Vec<u8>)) -> Vec<u8> {
    let mut bytes = varichrom_demo::stl(&box_mesh([0.0; 3], [1.0; 3]), "x");
    change(&mut bytes);
    bytes
}

#[rstest]
#[case::empty(Vec::new(), "file-empty")]
#[case::cut_short(broken(|b| b.truncate(300)), "stl-truncated")]
#[case::only_a_header(broken(|b| b.truncate(84)), "stl-truncated")]
#[case::no_facets(broken(|b| { b.truncate(84); b[80] = 0 }), "stl-no-facets")]
#[case::other_text(b"once upon a time there was a mesh".repeat(9), "file-unknown")]
#[case::short_text(b"hello".to_vec(), "file-unknown")]
#[case::text_cut_short(b"solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0".to_vec(), "stl-bad-line")]
#[case::text_without_facets(b"solid a\nendsolid a\n".to_vec(), "stl-no-facets")]
#[case::text_not_a_number(b"solid a\nfacet normal 0 0 1\nouter loop\nvertex nan 0 0\nvertex 0 0 0\nvertex 1 0 0\nendloop\nendfacet\nendsolid".to_vec(), "stl-bad-corner")]
fn bad_bytes_are_refused_with_code_place_and_mend(#[case] bytes: Vec<u8>, #[case] code: &str) {
    let problem = OpenMesh::from_bytes(&bytes).err().expect("refused");
    assert_eq!(problem.code, code, "{problem}");
    assert!(!problem.mend.is_empty() && problem.message.len() > 10);
}

#[rstest]
#[case::bytes_left_over(broken(|b| b.extend([0; 7])), 12, "behind the last facet (byte 684)")]
#[case::not_a_number(broken(|b| b[96..100].copy_from_slice(&f32::NAN.to_le_bytes())), 11, "facet 1")]
#[case::infinite(broken(|b| b[100..104].copy_from_slice(&f32::INFINITY.to_le_bytes())), 11, "facet 1")]
fn one_bad_place_does_not_cost_the_file(
    #[case] bytes: Vec<u8>,
    #[case] facets: usize,
    #[case] told: &str,
) {
    let open = OpenMesh::from_bytes(&bytes).expect("taken");
    assert_eq!(open.mesh.facets.len(), facets);
    assert!(
        open.origin.left_out.iter().any(|n| n.contains(told)),
        "{:?}",
        open.origin.left_out
    );
}

proptest! {
    #![proptest_config(cases(400))]

    #[test]
    fn mutated_stl_bytes_never_panic(
        changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 0..12),
        cut in any::<prop::sample::Index>(),
        is_cut in any::<bool>(),
        is_text in any::<bool>(),
    ) {
        let solid = together(&[box_mesh([0.0; 3], [4.0; 3]), box_mesh([4.0, 4.0, 0.0], [8.0; 3])]);
        let mut bytes = if is_text {
            ascii(&[("a", &solid)]).into_bytes()
        } else {
            varichrom_demo::stl(&solid, "x")
        };
        for (at, value) in changes {
            let at = at.index(bytes.len());
            bytes[at] = value;
        }
        if is_cut {
            bytes.truncate(cut.index(bytes.len()));
        }
        if let Ok(open) = OpenMesh::from_bytes(&bytes) {
            let soup = read_stl(&bytes).expect("it just opened");
            prop_assert_eq!(open.mesh.facets.len(), soup.corners.len());
            let partition = open.creases().partition(&open.topology, 30.0);
            prop_assert!(partition.patch_of.iter().all(|p| *p < partition.count));
        }
    }

    #[test]
    fn parts_and_volume_do_not_depend_on_facet_order_or_position(
        seed in any::<u64>(), shift in prop::array::uniform3(-50i32..50),
    ) {
        let solid = together(&[box_mesh([0.0; 3], [10.0; 3]), box_mesh([10.0, 10.0, 0.0], [20.0; 3])]);
        let mut facets = solid.facets.clone();
        let mut state = seed | 1;
        for i in (1..facets.len()).rev() {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            facets.swap(i, (state >> 33) as usize % (i + 1));
        }
        let vertices: Vec<[f64; 3]> = solid
            .vertices
            .iter()
            .map(|v| [0, 1, 2].map(|i| v[i] + f64::from(shift[i])))
            .collect();
        let open = open(&mesh(&vertices, &facets));
        prop_assert_eq!(open.parts.len(), 2);
        let mut volumes: Vec<f64> = open.parts.iter().map(|p| p.measures.volume_mm3).collect();
        volumes.sort_by(f64::total_cmp);
        prop_assert!((volumes[0] - 1000.0).abs() < 1e-2 && (volumes[1] - 2000.0).abs() < 1e-2);
    }
}
