//! OBJ, PLY and VRML97 as they are written: read back by second readers where there are any, and by our own, with the colours on the
//! right facets.

use crate::exports::job;
use crate::jobs_of::job_of;
use crate::part_jobs::do_all;
use approx::assert_relative_eq;
use rstest::rstest;
use std::collections::BTreeMap;
use std::io::Cursor;
use varichrom_core::colour::Colour;
use varichrom_core::formats::unzip_files;
use varichrom_core::job::{History, Job};
use varichrom_core::mesh::{cross, dot, length, sub};
use varichrom_core::model::OpenMesh;
use varichrom_demo::demo_jobs;

/// Area of each colour, mm², and the volume within all of it, mm³.
#[derive(Default)]
struct Seen {
    areas: BTreeMap<Colour, f64>,
    mm3: f64,
}

impl Seen {
    fn add(&mut self, [a, b, c]: [[f64; 3]; 3], colour: Colour) {
        *self.areas.entry(colour).or_default() += 0.5 * length(cross(sub(b, a), sub(c, a)));
        self.mm3 += dot(a, cross(b, c)) / 6.0;
    }

    /// As the job has it.
    fn assert_is(&self, job: &Job, within: f64) {
        let mut wanted: BTreeMap<Colour, f64> = BTreeMap::new();
        for (number, area) in job.region_areas().into_iter().enumerate() {
            if area > 0.0 {
                *wanted.entry(job.regions[number].colour).or_default() += area;
            }
        }
        let colours: Vec<&Colour> = self.areas.keys().collect();
        assert_eq!(colours, wanted.keys().collect::<Vec<_>>());
        for (colour, area) in &wanted {
            assert_relative_eq!(self.areas[colour], *area, max_relative = within);
        }
        let volume: f64 = job.models.iter().map(|m| m.open.volume_mm3()).sum();
        assert_relative_eq!(self.mm3, volume, max_relative = within);
    }
}

fn of_shares(rgb: [f64; 3]) -> Colour {
    Colour(rgb.map(|c| (255.0 * c).round() as u8))
}

/// A small job with names that formats dislike, and the gull with borders cut across its facets.
fn jobs() -> Vec<History> {
    let gull = demo_jobs()
        .into_iter()
        .find(|j| j.name.starts_with("Gull"))
        .expect("the gull");
    let (shelf, mut history) = job_of(&[(gull.model, &gull.bytes)]);
    do_all(&mut history, &shelf, gull.edits);
    vec![job(), history]
}

#[test]
fn an_obj_is_read_by_a_second_reader_with_its_materials() {
    for history in jobs() {
        let job = history.job();
        let files = unzip_files(&job.obj(&[]).expect("written"), &|_| true).expect("a ZIP");
        let options = tobj::LoadOptions::default();
        let (models, materials) =
            tobj::load_obj_buf(&mut &files["model.obj"][..], &options, |name| {
                tobj::load_mtl_buf(&mut &files[&name.to_string_lossy().into_owned()][..])
            })
            .expect("a second reader");
        let materials = materials.expect("its materials");
        let mut seen = Seen::default();
        for model in &models {
            let mesh = &model.mesh;
            let of = &materials[mesh.material_id.expect("a material")];
            let colour = of_shares(of.diffuse.expect("a colour").map(f64::from));
            let place = |v: u32| {
                let at = 3 * v as usize;
                [0, 1, 2].map(|i| mesh.positions[at + i])
            };
            for f in mesh.indices.chunks_exact(3) {
                seen.add([f[0], f[1], f[2]].map(place), colour);
            }
        }
        seen.assert_is(job, 1e-4);
        let parts: usize = job.models.iter().map(|m| m.parts.len()).sum();
        let names: std::collections::BTreeSet<&str> =
            models.iter().map(|m| m.name.as_str()).collect();
        assert!(names.len() >= parts.min(2), "{names:?}");
    }
}

#[test]
fn a_ply_is_read_by_a_second_reader_with_a_colour_for_each_facet() {
    use ply_rs::ply::{DefaultElement, Property};
    for history in jobs() {
        let job = history.job();
        let bytes = job.ply(&[]).expect("written");
        let parser = ply_rs::parser::Parser::<DefaultElement>::new();
        let file = parser.read_ply(&mut &bytes[..]).expect("a second reader");
        let places: Vec<[f64; 3]> = file.payload["vertex"]
            .iter()
            .map(|v| {
                ["x", "y", "z"].map(|axis| match v[axis] {
                    Property::Double(c) => c,
                    _ => panic!("a double"),
                })
            })
            .collect();
        let mut seen = Seen::default();
        for face in &file.payload["face"] {
            let corners = match &face["vertex_indices"] {
                Property::ListInt(ids) => [0, 1, 2].map(|i| places[ids[i] as usize]),
                _ => panic!("a list"),
            };
            let rgb = ["red", "green", "blue"].map(|c| match face[c] {
                Property::UChar(c) => c,
                _ => panic!("a byte"),
            });
            seen.add(corners, Colour(rgb));
        }
        seen.assert_is(job, 1e-9);
    }
}

#[rstest]
#[case::obj(|job: &Job| job.obj(&[]))]
#[case::ply(|job: &Job| job.ply(&[]))]
#[case::vrml(|job: &Job| job.vrml(&[]))]
fn what_is_written_opens_here_with_its_colours(
    #[case] write: fn(&Job) -> Result<Vec<u8>, varichrom_core::Problem>,
) {
    for history in jobs() {
        let job = history.job();
        let bytes = write(job).expect("written");
        assert_eq!(bytes, write(job).expect("written"), "the same bytes");
        let open = OpenMesh::from_bytes(&bytes).expect("it opens");
        let colours = open.origin.colours.as_ref().expect("its colours");
        let mut seen = Seen::default();
        for (facet, corners) in open.mesh.facets.iter().enumerate() {
            let colour = colours.palette[colours.facets[facet] as usize].colour;
            seen.add(corners.map(|v| open.mesh.vertices[v as usize]), colour);
        }
        seen.assert_is(job, 1e-6);
    }
    let refused = write(&Job::default()).expect_err("nothing to write");
    assert_eq!(refused.code, "export-empty");
}

#[test]
fn names_that_formats_dislike_harm_no_file() {
    let history = job();
    let text = history.job().vrml(&[]).expect("written");
    let text = String::from_utf8(text).expect("text");
    assert!(
        text.contains(r#"title "Boxes <&> \"more\"""#),
        "{}",
        &text[..200]
    );
    let files = unzip_files(&history.job().obj(&[]).expect("written"), &|_| true).expect("a ZIP");
    let mut cursor = Cursor::new(&files["model.mtl"]);
    let mut mtl = String::new();
    std::io::Read::read_to_string(&mut cursor, &mut mtl).expect("text");
    // Region names are words, and none is there twice.
    let mut names: Vec<&str> = mtl
        .lines()
        .filter_map(|l| l.strip_prefix("newmtl "))
        .collect();
    assert!(
        names.iter().all(|n| !n.contains(['/', '#', ' '])),
        "{names:?}"
    );
    let count = names.len();
    names.sort_unstable();
    names.dedup();
    assert_eq!(names.len(), count);
}
