//! Bad bytes of every format: refused with place and mend, or opened whole; and opening that is stopped.

use crate::sample_files::{cube, in_every_format, open, threemf_of};
use rstest::rstest;
use varichrom_core::Problem;
use varichrom_core::formats::Reading;
use varichrom_core::model::OpenMesh;
use varichrom_demo::{box_mesh, obj, threemf, threemf_package};

fn refusal(bytes: &[u8]) -> Problem {
    OpenMesh::from_bytes(bytes).err().expect("refused")
}

fn zip_with(entries: &[(&str, &[u8])]) -> Vec<u8> {
    use std::io::Write;
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, bytes) in entries {
        let options = zip::write::SimpleFileOptions::default();
        archive.start_file(*name, options).expect("room");
        archive.write_all(bytes).expect("room");
    }
    archive.finish().expect("room").into_inner()
}

fn nested(depth: usize) -> Vec<u8> {
    let mut resources = format!(r#"<object id="1">{}</object>"#, cube(""));
    for id in 2..=depth {
        resources += &format!(
            r#"<object id="{id}"><components><component objectid="{}"/></components></object>"#,
            id - 1
        );
    }
    threemf_of(&resources, &format!(r#"<item objectid="{depth}"/>"#))
}

fn doubling() -> Vec<u8> {
    let mut resources = format!(r#"<object id="1">{}</object>"#, cube(""));
    for id in 2..=40 {
        let below = format!(r#"<component objectid="{}"/>"#, id - 1);
        resources +=
            &format!(r#"<object id="{id}"><components>{below}{below}</components></object>"#);
    }
    threemf_of(&resources, r#"<item objectid="40"/>"#)
}

fn with_unit(unit: &str) -> Vec<u8> {
    threemf(&box_mesh([0.0; 3], [1.0; 3]), "x", unit)
}

/// Gigabytes of spaces in a few megabytes of ZIP, made without ever holding them whole.
fn zip_bomb() -> Vec<u8> {
    use std::io::Write;
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    let options = zip::write::SimpleFileOptions::default();
    archive
        .start_file("3D/3dmodel.model", options.large_file(true))
        .expect("room");
    archive.write_all(b"<model>").expect("room");
    let spaces = vec![b' '; 1 << 20];
    for _ in 0..1100 {
        archive.write_all(&spaces).expect("room");
    }
    archive.write_all(b"</model>").expect("room");
    archive.finish().expect("room").into_inner()
}

#[rstest]
#[case::obj_bad_number(b"v 0 0 0\nv 1 x 0\n".to_vec(), "obj-bad-line", "line 2")]
#[case::obj_nan(b"v 0 0 0\nv nan 0 0\n".to_vec(), "obj-bad-line", "line 2")]
#[case::obj_huge(b"v 0 0 0\nv 1e300 0 0\n".to_vec(), "obj-bad-line", "line 2")]
#[case::obj_index_out_of_range(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n".to_vec(), "obj-bad-line", "line 4")]
#[case::obj_index_zero(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n".to_vec(), "obj-bad-line", "line 4")]
#[case::obj_no_faces(b"v 0 0 0\nv 1 0 0\nv 0 1 0\n".to_vec(), "no-facets", "")]
#[case::ply_bad_header(b"ply\nformat ascii 1.0\nelement vertex many\nend_header\n".to_vec(), "ply-bad-header", "line 3")]
#[case::ply_count_lies(b"ply\nformat ascii 1.0\nelement vertex 4000000000\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n".to_vec(), "ply-truncated", "line")]
#[case::ply_points_only(b"ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nend_header\n0 0 0\n".to_vec(), "no-facets", "")]
#[case::ply_index_out_of_range(b"ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n3 0 1 2\n".to_vec(), "ply-bad-index", "line 11")]
#[case::vrml_one(b"#VRML V1.0 ascii\nSeparator {}".to_vec(), "vrml-version", "line 1")]
#[case::vrml_cut_short(b"#VRML V2.0 utf8\nShape { geometry IndexedFaceSet {\n coordIndex [0 1".to_vec(), "vrml97-bad-line", "line 3")]
#[case::vrml_use_before_def(b"#VRML V2.0 utf8\nDEF A Group { children USE A }".to_vec(), "vrml97-bad-line", "line 2")]
#[case::vrml_index_out_of_range(b"#VRML V2.0 utf8\nShape { geometry IndexedFaceSet { coord Coordinate { point [0 0 0] } coordIndex [0 1 2] } }".to_vec(), "vrml97-bad-line", "line 2")]
#[case::vrml_no_faces(b"#VRML V2.0 utf8\nGroup { }".to_vec(), "no-facets", "")]
#[case::vrml_deep("#VRML V2.0 utf8\n".chars().chain("Group { children ".repeat(5000).chars()).collect::<String>().into_bytes(), "vrml97-bad-line", "line 2")]
#[case::threemf_unit(with_unit("furlong"), "3mf-bad-model", "byte")]
#[case::threemf_cycle(
    threemf_of(
        r#"<object id="1"><components><component objectid="1"/></components></object>"#,
        r#"<item objectid="1"/>"#
    ),
    "3mf-nested-too-deep",
    "3D/3dmodel.model"
)]
#[case::threemf_deep(nested(400), "3mf-nested-too-deep", "3D/3dmodel.model")]
#[case::threemf_doubling(doubling(), "model-too-large", "3D/3dmodel.model")]
#[case::threemf_missing_object(
    threemf_of("", r#"<item objectid="7"/>"#),
    "3mf-no-object",
    "3D/3dmodel.model"
)]
#[case::threemf_vertex_out_of_range(threemf_of(&format!(r#"<object id="1">{}</object>"#, cube("").replace("v3=\"7\"", "v3=\"70\"")), r#"<item objectid="1"/>"#), "3mf-bad-model", "byte")]
#[case::threemf_entities(
    threemf_package("<!DOCTYPE x [<!ENTITY a \"ha\"><!ENTITY b \"&a;&a;\">]><model>&b;</model>"),
    "3mf-document-type",
    "byte"
)]
#[case::threemf_not_xml(threemf_package("<model><resources></model>"), "3mf-bad-xml", "byte")]
#[case::threemf_cut_short(threemf_package("<model><resources>"), "3mf-truncated", "byte")]
#[case::threemf_needs_more(
    threemf_package(
        "<model requiredextensions=\"s\" xmlns:s=\"http://example.org/secret\"></model>"
    ),
    "3mf-bad-model",
    "byte"
)]
#[case::zip_bomb(zip_bomb(), "3mf-bad-xml", "byte")]
#[case::zip_leads_out(zip_with(&[("../../etc/box.stl", b"solid")]), "zip-path-leads-out", "../../etc/box.stl")]
#[case::zip_without_model(zip_with(&[("letter.txt", b"dear all")]), "zip-no-model", "")]
#[case::zip_with_two(zip_with(&[("a.stl", b"solid"), ("b.obj", b"v 0 0 0")]), "zip-many-models", "")]
#[case::zip_cut_short(zip_with(&[("a.stl", b"solid")])[..40].to_vec(), "zip-damaged", "byte")]
#[case::picture(b"\x89PNG\r\n\x1a\n and so on".repeat(20), "file-unknown", "start")]
fn bad_files_are_refused_with_place_and_mend(
    #[case] bytes: Vec<u8>,
    #[case] code: &str,
    #[case] place: &str,
) {
    let problem = refusal(&bytes);
    assert_eq!(problem.code, code, "{problem}");
    let found = problem.place.clone().unwrap_or_default();
    assert!(found.contains(place), "{problem:?}");
    assert!(
        problem.mend.len() > 10 && problem.message.len() > 10,
        "{problem:?}"
    );
}

#[test]
fn the_ending_of_a_name_does_not_matter_inside_a_bundle() {
    let cube = obj(&box_mesh([0.0; 3], [1.0; 3]), "x");
    // Content counts: an OBJ that calls itself STL.
    assert_eq!(open(&zip_with(&[("x.stl", &cube)])).origin.format, "OBJ");
}

#[test]
fn reading_stops_when_told_to_and_reports_progress() {
    let solid = varichrom_demo::subdivided_sphere(10.0, 6);
    for (format, bytes) in in_every_format(&solid) {
        let steps = std::cell::RefCell::new(Vec::new());
        let reading = Reading {
            beside: &|_| None,
            progress: &|done| {
                steps.borrow_mut().push(done);
                true
            },
        };
        OpenMesh::read(&bytes, &reading).unwrap_or_else(|p| panic!("{format}: {p}"));
        let steps = steps.into_inner();
        assert!(
            steps.windows(2).all(|w| w[0] <= w[1] + 1e-9),
            "{format}: {steps:?}"
        );
        let stopped = Reading {
            beside: &|_| None,
            progress: &|_| false,
        };
        let problem = OpenMesh::read(&bytes, &stopped).err().expect("stopped");
        assert_eq!(problem.code, "stopped", "{format}");
    }
}
