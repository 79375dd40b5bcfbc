//! One bad place does not cost a file: what is left out is named and counted, the rest opens.

use crate::judge::cases;
use crate::sample_files::open;
use approx::assert_relative_eq;
use proptest::prelude::*;
use rstest::rstest;
use std::f64::consts::PI;
use varichrom_core::colour::Colour;
use varichrom_core::formats::Reading;
use varichrom_core::machine::settings_table;
use varichrom_core::mesh::Mesh;
use varichrom_core::model::{Mending, OpenMesh};
use varichrom_demo::{PlyKind, box_mesh, obj, ply, stl, subdivided_sphere};

fn text_stl() -> String {
    let mesh = box_mesh([0.0; 3], [10.0, 20.0, 30.0]);
    let mut text = String::from("solid box\n");
    for f in 0..mesh.facets.len() as u32 {
        text += "facet normal 0 0 0\nouter loop\n";
        for [x, y, z] in mesh.corners(f) {
            text += &format!("vertex {x} {y} {z}\n");
        }
        text += "endloop\nendfacet\n";
    }
    text + "endsolid box\n"
}

fn box_obj() -> String {
    String::from_utf8(obj(&box_mesh([0.0; 3], [10.0, 20.0, 30.0]), "box")).expect("text")
}

fn box_ply() -> String {
    String::from_utf8(ply(&box_mesh([0.0; 3], [10.0, 20.0, 30.0]), PlyKind::Text)).expect("text")
}

fn utf16(text: &str) -> Vec<u8> {
    let units = std::iter::once(0xfeff).chain(text.encode_utf16());
    units.flat_map(u16::to_le_bytes).collect()
}

fn said(open: &OpenMesh, words: &str) -> bool {
    open.origin.left_out.iter().any(|n| n.contains(words))
}

#[rstest]
#[case::text_behind_the_end(text_stl() + "made on a Tuesday\n", 12, "line")]
#[case::nul_at_the_end(text_stl() + "\0\0", 12, "")]
#[case::ctrl_z_at_the_end(text_stl() + "\u{1a}", 12, "")]
#[case::a_stray_comment(text_stl().replacen("facet normal", "# a note\nfacet normal", 1), 12, "line")]
#[case::carriage_returns(text_stl().replace('\n', "\r"), 12, "")]
#[case::a_facet_of_nan(text_stl().replacen("vertex 0 0 0", "vertex nan 0 0", 1), 11, "facet")]
fn text_stl_opens_with_what_is_sound(
    #[case] text: String,
    #[case] facets: usize,
    #[case] words: &str,
) {
    let open = open(text.as_bytes());
    assert_eq!(open.mesh.facets.len(), facets);
    assert!(
        words.is_empty() || said(&open, words),
        "{:?}",
        open.origin.left_out
    );
}

#[test]
fn a_carriage_return_stl_keeps_its_name_and_all_of_its_facets() {
    let open = open(text_stl().replace('\n', "\r").as_bytes());
    assert_eq!(open.part_names[0].as_deref(), Some("box"));
}

#[test]
fn binary_stl_opens_with_spare_bytes_and_without_a_facet_of_nan() {
    let mut bytes = stl(&box_mesh([0.0; 3], [10.0, 20.0, 30.0]), "box");
    bytes.extend([0, 0]);
    let open_one = open(&bytes);
    assert!(open_one.is_closed() && said(&open_one, "behind the last facet"));
    bytes[84 + 3 * 50 + 12..84 + 3 * 50 + 16].copy_from_slice(&f32::NAN.to_le_bytes());
    let open = open(&bytes);
    assert_eq!(open.mesh.facets.len(), 11);
    assert!(said(&open, "facet 4"), "{:?}", open.origin.left_out);
}

#[rstest]
#[case::utf16(utf16(&box_obj()), 12, "")]
#[case::ctrl_z(format!("{}\u{1a}", box_obj()).into_bytes(), 12, "")]
#[case::carriage_returns(box_obj().replace('\n', "\r").into_bytes(), 12, "")]
#[case::two_corners((box_obj() + "f 1 2\n").into_bytes(), 12, "a face")]
#[case::out_of_range((box_obj() + "f 1 2 99\nf 1 2 98\n").into_bytes(), 12, "2 faces")]
#[case::nan_nobody_uses((box_obj() + "v nan 0 0\n").into_bytes(), 12, "a vertex")]
#[case::nan_first(box_obj().replacen("v 0 0 0", "v nan 0 0", 1).into_bytes(), 7, "faces")]
fn obj_opens_with_what_is_sound(
    #[case] bytes: Vec<u8>,
    #[case] facets: usize,
    #[case] words: &str,
) {
    let open = open(&bytes);
    assert!(
        open.mesh.facets.len() >= facets,
        "{}",
        open.mesh.facets.len()
    );
    assert!(
        words.is_empty() || said(&open, words),
        "{:?}",
        open.origin.left_out
    );
}

#[test]
fn obj_faces_may_stand_above_their_vertices() {
    let text = box_obj();
    let (faces, rest): (Vec<&str>, Vec<&str>) = text.lines().partition(|l| l.starts_with("f "));
    let turned = format!("{}\n{}\n", faces.join("\n"), rest.join("\n"));
    let open = open(turned.as_bytes());
    assert_eq!((open.mesh.facets.len(), open.is_closed()), (12, true));
    assert!(open.origin.left_out.is_empty());
}

#[rstest]
#[case::two_corners(box_ply().replacen("\n3 ", "\n2 ", 1), 11, "face")]
#[case::nan(box_ply().replacen("\n0 0 0\n", "\nnan 0 0\n", 1), 6, "vertex")]
fn ply_opens_with_what_is_sound(#[case] text: String, #[case] facets: usize, #[case] words: &str) {
    let open = open(text.as_bytes());
    assert!(open.mesh.facets.len() >= facets);
    assert!(said(&open, words), "{:?}", open.origin.left_out);
}

#[test]
fn ply_faces_may_come_before_their_vertices() {
    let text = "ply\nformat ascii 1.0\nelement face 1\nproperty list uchar int vertex_indices\n\
        element vertex 4\nproperty float x\nproperty float y\nproperty float z\nend_header\n\
        4 0 1 2 3\n0 0 0\n4 0 0\n4 3 0\n0 3 0\n";
    assert_relative_eq!(open(text.as_bytes()).area_mm2(), 12.0);
}

#[test]
fn strips_of_triangles_and_clear_colours_are_named_in_ply() {
    let strips = "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\n\
        element tristrips 1\nproperty list int int vertex_indices\nend_header\n0 0 0\n3 0 0 0\n";
    let refused = OpenMesh::from_bytes(strips.as_bytes())
        .err()
        .expect("refused");
    assert!(refused.message.contains("strips"), "{refused}");
    let clear = "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n\
        property uchar red\nproperty uchar green\nproperty uchar blue\nproperty uchar alpha\nelement face 1\n\
        property list uchar int vertex_indices\nend_header\n0 0 0 1 1 1 128\n1 0 0 1 1 1 128\n0 1 0 1 1 1 255\n3 0 1 2\n";
    assert!(said(&open(clear.as_bytes()), "2 vertices"));
}

fn with_material(text: &str, mtl: &[u8]) -> OpenMesh {
    let reading = Reading {
        beside: &|name| (name == "paint.mtl").then(|| mtl.to_vec()),
        progress: &|_| true,
    };
    OpenMesh::read(text.as_bytes(), &reading).expect("it opens")
}

#[rstest]
#[case::byte_order_mark(
    "mtllib paint.mtl\nusemtl red\n",
    "\u{feff}newmtl red\nKd 1 0 0\n",
    "#ff0000"
)]
#[case::carriage_returns("mtllib paint.mtl\nusemtl red\n", "newmtl red\rKd 1 0 0\r", "#ff0000")]
#[case::quoted(
    "mtllib \"paint.mtl\"\nusemtl red\n",
    "newmtl red\nKd 1 0 0\n",
    "#ff0000"
)]
#[case::other_case("mtllib PAINT.MTL\nusemtl Red\n", "newmtl red\nKd 1 0 0\n", "#ff0000")]
#[case::one_number("mtllib paint.mtl\nusemtl red\n", "newmtl red\nKd 1\n", "#ffffff")]
#[case::used_before_it_is_named("usemtl red\n", "newmtl red\nKd 1 0 0\n", "#ff0000")]
#[case::a_picture_alone(
    "mtllib paint.mtl\nusemtl red\n",
    "newmtl red\nmap_Kd wood.png\n",
    "#ffffff"
)]
fn material_files_are_read_as_programs_write_them(
    #[case] head: &str,
    #[case] mtl: &str,
    #[case] colour: &str,
) {
    let tail = if head.contains("lib") {
        ""
    } else {
        "mtllib paint.mtl\n"
    };
    let text = format!("{head}v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n{tail}");
    let open = with_material(&text, mtl.as_bytes());
    let palette = &open.origin.colours.as_ref().expect("colours").palette;
    let wanted: Colour = colour.parse().expect("a colour");
    assert_eq!((palette[0].colour, palette[0].is_stand_in), (wanted, false));
    assert!(
        !said(&open, "material file was not there"),
        "{:?}",
        open.origin.left_out
    );
}

#[test]
fn white_vertex_colours_hide_no_material_and_opacity_is_kept() {
    let text =
        "mtllib paint.mtl\nusemtl red\nv 0 0 0 1 1 1\nv 1 0 0 1 1 1\nv 0 1 0 1 1 1\nf 1 2 3\n";
    let open = with_material(text, b"newmtl red\nKd 1 0 0\nd 0.25\n");
    let colours = open.origin.colours.as_ref().expect("colours");
    assert_eq!(
        colours.palette[colours.facets[0] as usize].colour,
        Colour([255, 0, 0])
    );
    assert_eq!(colours.palette[0].opacity, 0.25);
}

fn vrml(text: &str) -> OpenMesh {
    open(format!("#VRML V2.0 utf8\n{text}").as_bytes())
}

#[rstest]
#[case::cuboid("Box { size 2 3 4 }", 24.0, 1e-12)]
#[case::sphere("Sphere { radius 5 }", 4.0 / 3.0 * PI * 125.0, 0.01)]
#[case::cylinder("Cylinder { radius 2 height 7 }", PI * 4.0 * 7.0, 0.01)]
#[case::cone("Cone { bottomRadius 3 height 7 }", PI * 9.0 * 7.0 / 3.0, 0.01)]
#[case::prism("Extrusion { }", 4.0, 1e-12)]
#[case::wider("Extrusion { spine [0 0 0, 0 3 0] scale [1 1, 2 2] }", 3.0 / 3.0 * (4.0 + 16.0 + 8.0), 1e-9)]
fn vrml_shapes_have_the_volumes_of_the_formulas(
    #[case] shape: &str,
    #[case] volume: f64,
    #[case] share: f64,
) {
    let open = vrml(&format!("Shape {{ geometry {shape} }}"));
    assert!(open.is_closed(), "{shape}");
    assert_relative_eq!(open.volume_mm3(), volume, max_relative = share);
}

#[test]
fn vrml_grids_stand_where_the_standard_has_them() {
    let open = vrml(
        "Shape { geometry ElevationGrid { xDimension 3 zDimension 2 xSpacing 2 zSpacing 5 height [0 0 0 0 0 0] } }",
    );
    assert_relative_eq!(open.area_mm2(), 4.0 * 5.0);
    assert!(open.mesh.facets.len() == 4 && open.mesh.bounds().max == [4.0, 0.0, 5.0]);
}

#[test]
fn vrml_prototypes_are_followed_with_the_values_they_are_given() {
    let open = vrml(
        "PROTO Brick [ field SFVec3f size 1 1 1 field SFColor tint 1 1 1 ] {\n\
         Shape { appearance Appearance { material Material { diffuseColor IS tint } } geometry Box { size IS size } } }\n\
         Brick { size 2 3 4 tint 1 0 0 }\nTransform { translation 10 0 0 children Brick { } }\n",
    );
    assert_relative_eq!(open.volume_mm3(), 25.0, max_relative = 1e-12);
    let colours = open.origin.colours.as_ref().expect("colours");
    assert!(
        colours
            .palette
            .iter()
            .any(|c| c.colour == Colour([255, 0, 0]))
    );
    assert!(
        open.origin.left_out.is_empty(),
        "{:?}",
        open.origin.left_out
    );
    let outside = vrml("EXTERNPROTO Lamp [ ] \"lamp.wrl\"\nShape { geometry Box { } }\nLamp { }\n");
    assert!(said(&outside, "Lamp"), "{:?}", outside.origin.left_out);
}

#[test]
fn names_that_cannot_be_written_down_are_made_so() {
    for control in (1u8..32).filter(|c| !c.is_ascii_whitespace()) {
        let text = text_stl().replacen("solid box", &format!("solid bo{}x", control as char), 1);
        // Binary readers see controls as no text; OBJ takes any.
        let named = box_obj().replacen("o box", &format!("o bo{}x", control as char), 1);
        for bytes in [text.into_bytes(), named.into_bytes()] {
            if let Ok(open) = OpenMesh::from_bytes(&bytes) {
                let name = open.part_names[0].clone().unwrap_or_default();
                assert!(!name.chars().any(char::is_control), "{name:?}");
            }
        }
    }
}

#[test]
fn a_gigabyte_in_several_files_is_refused_as_one_would_be() {
    use std::io::Write;
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    let options = zip::write::SimpleFileOptions::default();
    archive.start_file("box.obj", options).expect("room");
    archive.write_all(box_obj().as_bytes()).expect("room");
    let spaces = vec![b' '; 1 << 20];
    for n in 0..3 {
        archive
            .start_file(format!("{n}.mtl"), options)
            .expect("room");
        for _ in 0..400 {
            archive.write_all(&spaces).expect("room");
        }
    }
    let bytes = archive.finish().expect("room").into_inner();
    let refused = OpenMesh::from_bytes(&bytes).err().expect("refused");
    assert_eq!(refused.code, "zip-unpacks-too-large");
}

#[test]
fn archives_within_archives_end_soon() {
    use std::io::Write;
    let mut inside = box_obj().into_bytes();
    let mut name = "box.obj".to_string();
    let mut refused = None;
    for n in 0..6 {
        let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
        archive
            .start_file(&*name, zip::write::SimpleFileOptions::default())
            .expect("room");
        archive.write_all(&inside).expect("room");
        inside = archive.finish().expect("room").into_inner();
        // A ZIP under a model's name is told by its content.
        name = format!("{n}.3mf");
        refused = OpenMesh::from_bytes(&inside).err();
    }
    assert_eq!(refused.expect("refused").code, "zip-too-deep");
}

#[test]
fn the_table_of_a_printers_fields_is_the_one_that_is_checked() {
    let page = include_str!("../../../../docs/recipes.md");
    assert!(
        page.contains(&settings_table()),
        "docs/recipes.md should hold:\n{}",
        settings_table()
    );
}

fn all() -> Mending {
    Mending {
        weld_mm: Some(0.01),
        degenerate: true,
        duplicates: true,
        turn: true,
        holes_mm: Some(50.0),
        specks_mm: None,
    }
}

proptest! {
    #![proptest_config(cases(60))]

    #[test]
    fn after_one_mending_nothing_is_left_that_a_second_would_mend(
        splits in 0u32..3,
        gone in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
        turned in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
        twice in prop::collection::vec(any::<prop::sample::Index>(), 0..4),
        flat in prop::collection::vec(any::<prop::sample::Index>(), 0..4),
        is_inside_out in any::<bool>(),
    ) {
        let mut mesh: Mesh = subdivided_sphere(10.0, splits);
        for i in &turned {
            let at = i.index(mesh.facets.len());
            mesh.facets[at].swap(1, 2);
        }
        for i in &twice {
            let again = mesh.facets[i.index(mesh.facets.len())];
            mesh.facets.push(again);
        }
        for i in &flat {
            let [a, b, _] = mesh.facets[i.index(mesh.facets.len())];
            mesh.facets.push([a, b, b]);
        }
        for i in &gone {
            mesh.facets.remove(i.index(mesh.facets.len()));
        }
        if is_inside_out {
            mesh.facets.iter_mut().for_each(|f| f.swap(1, 2));
        }
        let broken = open(&obj(&mesh, "ball"));
        if let Ok(once) = broken.mended(&all()) {
            let twice = once.open.mended(&all()).expect("something is left");
            prop_assert!(twice.report.is_nothing(), "{:?} after {:?}", twice.report, once.report);
        }
    }
}
