//! Every format in: against other libraries and against the standards' own rules.

use crate::sample_files::{TWO_OBJECTS, cube, in_every_format, open, threemf_of, vrml_square};
use crate::shapes::platonic;
use approx::assert_relative_eq;
use rstest::rstest;
use varichrom_core::colour::Colour;
use varichrom_core::formats::{FileColours, NO_COLOUR, bundle};
use varichrom_core::model::OpenMesh;
use varichrom_demo::{PlyKind, box_mesh, obj, ply, stl, threemf};

const RED: Colour = Colour([255, 0, 0]);
const GREEN: Colour = Colour([0, 255, 0]);
const BLUE: Colour = Colour([0, 0, 255]);

fn bunny() -> OpenMesh {
    open(include_bytes!("data/bunny.stl"))
}

/// Colours of all facets, with `None` where a facet has none.
fn colours(open: &OpenMesh) -> Vec<Option<Colour>> {
    let Some(FileColours {
        palette, facets, ..
    }) = &open.origin.colours
    else {
        return vec![None; open.mesh.facets.len()];
    };
    let of = |c: &u32| (*c != NO_COLOUR).then(|| palette[*c as usize].colour);
    facets.iter().map(of).collect()
}

#[test]
fn the_bunny_is_the_same_in_all_formats() {
    let first = bunny();
    for (format, bytes) in in_every_format(&first.mesh) {
        let other = open(&bytes);
        assert_eq!(other.origin.format, format);
        assert_eq!(other.parts.len(), first.parts.len(), "{format}");
        assert_eq!(other.mesh.facets.len(), first.mesh.facets.len(), "{format}");
        assert_eq!(other.mesh.vertices.len(), first.mesh.vertices.len());
        assert!(other.is_closed() && other.defects.is_empty(), "{format}");
        assert_relative_eq!(other.area_mm2(), first.area_mm2(), max_relative = 1e-6);
        assert_relative_eq!(other.volume_mm3(), first.volume_mm3(), max_relative = 1e-6);
        // Euler–Poincaré, genus 0: V − E + F = 2 with 3 F = 2 E.
        let (v, f) = (other.mesh.vertices.len(), other.mesh.facets.len());
        assert_eq!(v + f, 2 + 3 * f / 2, "{format}");
    }
}

#[test]
fn closed_solids_stay_closed_in_all_formats() {
    for (name, solid, _, volume, _) in platonic(10.0) {
        for (format, bytes) in in_every_format(&solid) {
            let open = open(&bytes);
            assert!(open.is_closed(), "{name} as {format}");
            assert_relative_eq!(open.volume_mm3(), volume, max_relative = 1e-6);
            assert_eq!(
                open.mesh.vertices.len() + open.mesh.facets.len(),
                2 + 3 * open.mesh.facets.len() / 2
            );
        }
    }
}

/// Triangles as sorted corner positions, for comparing without regard to numbering.
fn triangles(vertices: &[[f64; 3]], facets: &[[u32; 3]]) -> Vec<[[i64; 3]; 3]> {
    let key = |v: u32| vertices[v as usize].map(|c| (c * 1e5).round() as i64);
    let mut all: Vec<[[i64; 3]; 3]> = facets.iter().map(|f| f.map(key)).collect();
    for t in &mut all {
        let least = (0..3).min_by_key(|i| t[*i]).unwrap_or(0);
        t.rotate_left(least);
    }
    all.sort_unstable();
    all
}

#[test]
fn other_libraries_read_the_same_triangles() {
    let mesh = bunny().mesh;
    let same = |bytes: &[u8], vertices: &[[f64; 3]], facets: &[[u32; 3]]| {
        let ours = open(bytes);
        assert!(triangles(&ours.mesh.vertices, &ours.mesh.facets) == triangles(vertices, facets));
    };

    let bytes = obj(&mesh, "bunny");
    let options = tobj::LoadOptions::default();
    let (models, _) = tobj::load_obj_buf(&mut &bytes[..], &options, |_| {
        Ok((Vec::new(), Default::default()))
    })
    .expect("tobj reads it");
    let other = &models[0].mesh;
    let (points, _) = other.positions.as_chunks::<3>();
    let (facets, _) = other.indices.as_chunks::<3>();
    same(&bytes, points, facets);

    for kind in [PlyKind::Text, PlyKind::Little, PlyKind::Big] {
        use ply_rs::ply::{DefaultElement, Property};
        let bytes = ply(&mesh, kind);
        let parser = ply_rs::parser::Parser::<DefaultElement>::new();
        let file = parser.read_ply(&mut &bytes[..]).expect("ply-rs reads it");
        let points: Vec<[f64; 3]> = file.payload["vertex"]
            .iter()
            .map(|v| {
                ["x", "y", "z"].map(|axis| match v[axis] {
                    Property::Double(c) => c,
                    _ => panic!("a double"),
                })
            })
            .collect();
        let facets: Vec<[u32; 3]> = file.payload["face"]
            .iter()
            .map(|f| match &f["vertex_indices"] {
                Property::ListInt(ids) => [0, 1, 2].map(|i| ids[i] as u32),
                _ => panic!("a list"),
            })
            .collect();
        same(&bytes, &points, &facets);
    }

    let bytes = threemf(&mesh, "bunny", "millimeter");
    let model = lib3mf::Model::from_reader(std::io::Cursor::new(&bytes)).expect("lib3mf reads it");
    let other = model.resources.objects[0].mesh.as_ref().expect("a mesh");
    let points: Vec<[f64; 3]> = other.vertices.iter().map(|v| [v.x, v.y, v.z]).collect();
    let facets: Vec<[u32; 3]> = other
        .triangles
        .iter()
        .map(|t| [t.v1, t.v2, t.v3].map(|v| v as u32))
        .collect();
    same(&bytes, &points, &facets);

    let bytes = stl(&mesh, "bunny");
    let other = stl_io::read_stl(&mut std::io::Cursor::new(&bytes)).expect("stl_io reads it");
    let points: Vec<[f64; 3]> = other
        .vertices
        .iter()
        .map(|v| [v[0], v[1], v[2]].map(f64::from))
        .collect();
    let facets: Vec<[u32; 3]> = other
        .faces
        .iter()
        .map(|f| f.vertices.map(|v| v as u32))
        .collect();
    same(&bytes, &points, &facets);
}

#[test]
fn a_file_written_by_another_library_opens() {
    let mesh = box_mesh([0.0; 3], [3.0, 4.0, 5.0]);
    let facets: Vec<stl_io::Triangle> = (0..mesh.facets.len() as u32)
        .map(|f| stl_io::Triangle {
            normal: stl_io::Normal::new([0.0; 3]),
            vertices: mesh
                .corners(f)
                .map(|c| stl_io::Vertex::new(c.map(|c| c as f32))),
        })
        .collect();
    let mut bytes = Vec::new();
    stl_io::write_stl(&mut bytes, facets.iter()).expect("stl_io writes it");
    assert_relative_eq!(open(&bytes).volume_mm3(), 60.0, max_relative = 1e-6);
}

/// 3MF core specification, section 3.4, table of units: length of one unit in mm.
#[rstest]
#[case("micron", 0.001)]
#[case("millimeter", 1.0)]
#[case("centimeter", 10.0)]
#[case("inch", 25.4)]
#[case("foot", 304.8)]
#[case("meter", 1000.0)]
fn threemf_units_become_millimetres(#[case] unit: &str, #[case] mm: f64) {
    let open = open(&threemf(&box_mesh([0.0; 3], [1.0, 2.0, 3.0]), "box", unit));
    assert!(open.origin.units.is_stated);
    let size = open.mesh.bounds().size();
    for (got, wanted) in size.iter().zip([1.0, 2.0, 3.0]) {
        assert_relative_eq!(*got, wanted * mm, max_relative = 1e-12);
    }
}

/// Core specification, section 3.3: a point is a row vector times the matrix, components first, then the item.
#[test]
fn threemf_components_are_placed_before_the_item() {
    let resources = format!(
        r#"<object id="1" name="Cup">{}</object><object id="2"><components>
        <component objectid="1" transform="2 0 0 0 1 0 0 0 1 10 0 0"/><component objectid="1"/></components></object>"#,
        cube("")
    );
    // The item turns x onto y by 90° and raises by 5.
    let item = r#"<item objectid="2" transform="0 1 0 -1 0 0 0 0 1 0 0 5"/>"#;
    let open = open(&threemf_of(&resources, item));
    assert_eq!(open.parts.len(), 2);
    assert_eq!(open.part_names, [Some("Cup".into()), Some("Cup".into())]);
    let wide = &open.parts[0].measures;
    // x 10…12 becomes y 10…12; y 0…1 becomes x −1…0; z is raised.
    assert_eq!(wide.bounds.min, [-1.0, 10.0, 5.0]);
    assert_eq!(wide.bounds.max, [0.0, 12.0, 6.0]);
    assert_relative_eq!(wide.volume_mm3, 2.0, max_relative = 1e-12);
    assert!(
        open.origin
            .metadata
            .contains(&("Title".into(), "Salt & pepper".into()))
    );
}

#[test]
fn a_mirrored_component_still_faces_outward() {
    let resources = format!(
        r#"<object id="1">{}</object><object id="2"><components><component objectid="1" transform="-1 0 0 0 1 0 0 0 1 0 0 0"/></components></object>"#,
        cube("")
    );
    let open = open(&threemf_of(&resources, r#"<item objectid="2"/>"#));
    assert_relative_eq!(open.volume_mm3(), 1.0, max_relative = 1e-12);
}

#[test]
fn objects_that_touch_stay_apart_in_threemf() {
    let resources = format!(
        r#"<object id="1" name="A">{0}</object><object id="2" name="B">{0}</object>"#,
        cube("")
    );
    let build = r#"<item objectid="1"/><item objectid="2" transform="1 0 0 0 1 0 0 0 1 1 0 0"/>"#;
    let open = open(&threemf_of(&resources, build));
    assert_eq!(open.part_names, [Some("A".into()), Some("B".into())]);
    assert!(open.defects.is_empty());
}

/// Materials extension: what a facet's property comes to, as a plain colour.
#[rstest]
// Section 2: base materials; section 3: colour groups, in sRGB.
#[case::base(r##"<basematerials id="9"><base name="Rust" displaycolor="#FF0000"/><base name="Moss" displaycolor="#00FF00FF"/></basematerials>"##, 1, GREEN)]
#[case::group(
    r##"<m:colorgroup id="9"><m:color color="#0000FF"/></m:colorgroup>"##,
    0,
    BLUE
)]
// Section 4: a composite of one material alone is that material.
#[case::composite(r##"<basematerials id="8"><base name="R" displaycolor="#FF0000"/><base name="B" displaycolor="#0000FF"/></basematerials><m:compositematerials id="9" matid="8" matindices="0 1"><m:composite values="0 1"/></m:compositematerials>"##, 0, BLUE)]
// Section 5: an opaque upper layer hides the lower under the default blend.
#[case::multi(r##"<m:colorgroup id="7"><m:color color="#FF0000"/></m:colorgroup><m:colorgroup id="8"><m:color color="#00FF00"/></m:colorgroup><m:multiproperties id="9" pids="7 8"><m:multi pindices="0 0"/></m:multiproperties>"##, 0, GREEN)]
// … and multiplies channel by channel when told to: red times green is black.
#[case::multiplied(r##"<m:colorgroup id="7"><m:color color="#FF0000"/></m:colorgroup><m:colorgroup id="8"><m:color color="#00FF00"/></m:colorgroup><m:multiproperties id="9" pids="7 8" blendmethods="multiply"><m:multi pindices="0 0"/></m:multiproperties>"##, 0, Colour([0, 0, 0]))]
fn threemf_properties_resolve_to_colours(
    #[case] groups: &str,
    #[case] index: u32,
    #[case] wanted: Colour,
) {
    let facet = cube(&format!(r#"pid="9" p1="{index}""#));
    let resources = format!(r#"{groups}<object id="1">{facet}</object>"#);
    let one = open(&threemf_of(&resources, r#"<item objectid="1"/>"#));
    assert_eq!(colours(&one)[0], Some(wanted));
    assert!(colours(&one)[1..].iter().all(Option::is_none));
    // The same as the object's own property covers every facet.
    let resources = format!(
        r#"{groups}<object id="1" pid="9" pindex="{index}">{}</object>"#,
        cube("")
    );
    let whole = open(&threemf_of(&resources, r#"<item objectid="1"/>"#));
    assert!(colours(&whole).iter().all(|c| *c == Some(wanted)));
}

#[test]
fn corner_colours_of_threemf_vary_over_the_facet() {
    let group = r##"<m:colorgroup id="9"><m:color color="#FF0000"/><m:color color="#00FF00"/><m:color color="#0000FF"/></m:colorgroup>"##;
    let facet = cube(r#"pid="9" p1="0" p2="1" p3="2""#);
    let open = open(&threemf_of(
        &format!(r#"{group}<object id="1">{facet}</object>"#),
        r#"<item objectid="1"/>"#,
    ));
    let found = open.origin.colours.as_ref().expect("colours");
    assert_eq!(found.varying, [(0, [RED, GREEN, BLUE])]);
}

/// ISO/IEC 14772-1:1997, section 6.23: which colour goes with which face or corner.
#[rstest]
#[case::material_without_colours("", [BLUE, BLUE])]
#[case::per_face_in_order("color Color { color [1 0 0, 0 1 0] } colorPerVertex FALSE", [RED, GREEN])]
#[case::per_face_by_index("color Color { color [1 0 0, 0 1 0] } colorPerVertex FALSE colorIndex [1 0]", [GREEN, RED])]
#[case::per_corner_by_coord_index("color Color { color [1 0 0, 1 0 0, 1 0 0, 1 0 0] }", [RED, RED])]
#[case::per_corner_by_own_index("color Color { color [1 0 0, 0 1 0] } colorIndex [1 1 1 -1 0 0 0 -1]", [GREEN, RED])]
fn vrml_colours_bind_as_the_standard_says(#[case] fields: &str, #[case] wanted: [Colour; 2]) {
    assert_eq!(colours(&open(&vrml_square(fields))), wanted.map(Some));
}

#[test]
fn vrml_corner_colours_vary_and_use_repeats_a_shape() {
    let open = open(
        b"#VRML V2.0 utf8\nDEF Buoy Transform { translation 5 0 0 scale 2 2 2 children [ DEF S Shape { geometry IndexedFaceSet {\n\
          coord Coordinate { point [0 0 0, 1 0 0, 0 1 0] } coordIndex [0, 1, 2]\n\
          color Color { color [1 0 0, 0 1 0, 0 0 1] } } } ] } # and once more, turned\n\
          Transform { rotation 0 0 1 1.5707963267948966 children USE S }",
    );
    assert_eq!(open.mesh.facets.len(), 2);
    assert_eq!(
        open.mesh.corners(0),
        [[5.0, 0.0, 0.0], [7.0, 0.0, 0.0], [5.0, 2.0, 0.0]]
    );
    let turned = open.mesh.corners(1);
    assert_relative_eq!(turned[1][1], 1.0, epsilon = 1e-12);
    assert_eq!(
        open.origin.colours.as_ref().map(|c| c.varying.len()),
        Some(2)
    );
    assert_eq!(open.part_names[0].as_deref(), Some("S"));
}

/// The standard's order (section 6.52): scale about its own axes and the centre, turn about the centre, then shift.
#[test]
fn vrml_transforms_apply_scale_turn_shift_in_order() {
    let open = open(
        b"#VRML V2.0 utf8\nTransform { center 1 0 0 rotation 0 0 1 3.141592653589793 scale 2 1 1 translation 0 0 4 children Shape {\n\
          geometry IndexedFaceSet { coord Coordinate { point [0 0 0, 2 0 0, 1 1 0] } coordIndex [0 1 2 -1] } } }",
    );
    // x 0 is 1 from the centre: 2 after the scale, on the other side after half a turn: x 3.
    let [a, b, _] = open.mesh.corners(0);
    assert_relative_eq!(a[0], 3.0, epsilon = 1e-12);
    assert_relative_eq!(b[0], -1.0, epsilon = 1e-12);
    assert_relative_eq!(a[2], 4.0, epsilon = 1e-12);
}

#[test]
fn obj_objects_name_parts_and_materials_colour_them() {
    let paint = b"newmtl rust\nKd 1 0 0\nnewmtl sail cloth\nKd 0 1 0\n".to_vec();
    let files = [("paint.mtl".to_string(), paint)];
    let whole = bundle(("boat.obj", TWO_OBJECTS.into()), &files).expect("two names");
    let open = open(&whole);
    assert_eq!(open.part_names, [Some("Hull".into()), Some("Mast".into())]);
    assert_eq!(colours(&open), [Some(RED), Some(RED), Some(GREEN)]);
    let palette = &open.origin.colours.as_ref().expect("colours").palette;
    let names: Vec<&str> = palette.iter().map(|c| c.name.as_str()).collect();
    assert_eq!(names, ["rust", "sail cloth"]);
}

#[test]
fn groups_on_one_surface_stay_one_part_and_that_is_said() {
    let text =
        b"v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\ng Lid\nf 1 3 2\ng Sides\nf 1 2 4\nf 2 3 4\nf 3 1 4\n";
    let open = open(text);
    assert!(open.parts.len() == 1 && open.is_closed());
    let [note] = &open.origin.left_out[..] else {
        panic!("one note: {:?}", open.origin.left_out);
    };
    assert!(note.contains("Lid, Sides"), "{note}");
}

#[test]
fn obj_without_its_material_file_opens_and_says_so() {
    let open = open(TWO_OBJECTS.as_bytes());
    assert!(
        open.origin.left_out[0].contains("rust, sail cloth"),
        "{:?}",
        open.origin.left_out
    );
    assert_eq!(open.mesh.facets.len(), 3);
}

#[test]
fn vertex_colours_of_obj_and_ply_are_kept() {
    let text = b"v 0 0 0 1 0 0\nv 1 0 0 1 0 0\nv 1 1 0 1 0 0\nv 0 1 0 0 0 1\nf 1 2 3\nf 1 3 4\n";
    let from_obj = open(text);
    assert_eq!(colours(&from_obj)[0], Some(RED));
    assert_eq!(
        from_obj.origin.colours.as_ref().map(|c| c.varying.clone()),
        Some(vec![(1, [RED, RED, BLUE])])
    );
    let text = b"ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nelement face 1\nproperty list uchar int vertex_index\nend_header\n0 0 0 255 0 0\n1 0 0 255 0 0\n1 1 0 255 0 0\n0 1 0 255 0 0\n4 0 1 2 3\n";
    assert_eq!(colours(&open(text)), [Some(RED), Some(RED)]);
    let text = b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2 0 255 0\n";
    assert_eq!(colours(&open(text)), [Some(GREEN)]);
}

#[test]
fn a_dented_face_is_divided_without_folding() {
    // An L of area 3 as one face of six corners, starting at a corner from which a fan would leave it.
    let text = b"v 1 0 0\nv 2 0 0\nv 2 2 0\nv 0 2 0\nv 0 1 0\nv 1 1 0\nf 1 2 3 4 5 6\n";
    assert_relative_eq!(open(text).area_mm2(), 3.0, max_relative = 1e-12);
}
