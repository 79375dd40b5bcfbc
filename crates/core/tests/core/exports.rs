//! What is written, read back by others.

use approx::assert_relative_eq;
use std::io::{Cursor, Read};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::colour::Colour;
use varichrom_core::formats::{write_stl, zip_files};
use varichrom_core::handover::{BodyDepth, closed_bodies};
use varichrom_core::handover::{mesh_bytes, partition_bytes};
use varichrom_core::job::{Edit, GiveEdit, History, Job, JobEdit, ModelEdit, Models, RegionEdit};
use varichrom_core::mesh::{dot, facet_normal};
use varichrom_core::model::{OpenMesh, Place};
use varichrom_core::regions::Within;
use varichrom_demo::{box_mesh, float_in_ring, pier_light, together};

struct One(Arc<OpenMesh>);

impl Models for One {
    fn open(&self, _: &str) -> Result<Arc<OpenMesh>, Problem> {
        Ok(self.0.clone())
    }
}

/// Two boxes, lifted off the bed; the top of the first is red, the second is blue.
pub(crate) fn job() -> History {
    let boxes = [
        box_mesh([0.0, 0.0, 5.0], [20.0, 20.0, 15.0]),
        box_mesh([30.0, 0.0, 5.0], [40.0, 10.0, 15.0]),
    ];
    let models = One(Arc::new(crate::shapes::open(&together(&boxes))));
    let at = |x: f64| Place {
        model: "Boxes".into(),
        point: [x, 5.0, 15.0],
        normal: [0.0, 0.0, 1.0],
    };
    let add = |key: &str, rgb: [u8; 3]| {
        Edit::Region(RegionEdit::AddRegion {
            region: key.into(),
            name: format!("Région {key}/#1"),
            colour: Colour(rgb),
            slot: None,
        })
    };
    let edits = vec![
        Edit::Job(JobEdit::RenameJob {
            name: "Boxes <&> \"more\"".into(),
        }),
        Edit::Model(ModelEdit::OpenModel {
            model: "Boxes".into(),
            file: "b.stl".into(),
            content: "b".into(),
        }),
        add("red", [200, 10, 20]),
        add("blue", [10, 20, 200]),
        Edit::Give(GiveEdit::GivePatch {
            region: "red".into(),
            at: at(5.0),
            crease_deg: 20.0,
            within: Within::Part,
            turn_deg: None,
        }),
        Edit::Region(RegionEdit::GivePart {
            region: "blue".into(),
            at: at(35.0),
        }),
        Edit::Model(ModelEdit::RenamePart {
            at: at(35.0),
            name: "Peg & co <2>".into(),
        }),
    ];
    let head = edits.len();
    History::replay(edits, head, &models).expect("sound edits")
}

#[test]
fn a_3mf_keeps_shape_parts_names_and_the_colour_of_every_facet() {
    let history = job();
    let job: &Job = history.job();
    let bytes = job.threemf(&[]).expect("written");
    let model = lib3mf::Model::from_reader(Cursor::new(&bytes)).expect("read back");
    assert_eq!(model.unit, "millimeter");
    // The reader ends a text at its first entity, so the title is looked up in the XML itself.
    let mut package = zip::ZipArchive::new(Cursor::new(&bytes)).expect("a package");
    let mut xml = String::new();
    let mut part = package.by_name("3D/3dmodel.model").expect("the model part");
    part.read_to_string(&mut xml).expect("text");
    assert!(
        xml.contains(r#"name="Title">Boxes &lt;&amp;&gt; "#),
        "{}",
        &xml[..600]
    );
    // Two parts, and the one object of both that the build names, so that they stay together.
    assert_eq!(
        (model.resources.objects.len(), model.build.items.len()),
        (3, 1)
    );
    let whole = &model.resources.objects[2];
    assert_eq!(
        (whole.id, whole.components.len()),
        (model.build.items[0].objectid, 2)
    );
    // A reader that knows the core alone sees the slots' materials.
    let materials = &model.resources.base_material_groups[0].materials;
    for part in &model.resources.objects[..2] {
        assert_eq!(part.pid, Some(model.resources.base_material_groups[0].id));
        assert!(part.pindex.is_some_and(|i| i < materials.len()));
    }
    for name in ["Boxes 1", "Peg &amp; co &lt;2&gt;"] {
        assert!(xml.contains(&format!("name=\"{name}\"")), "{name}");
    }
    let colours = &model.resources.color_groups[0].colors;
    for (number, object) in model.resources.objects[..2].iter().enumerate() {
        let mesh = object.mesh.as_ref().expect("a mesh");
        assert_eq!((mesh.vertices.len(), mesh.triangles.len()), (8, 12));
        for t in &mesh.triangles {
            let z = [t.v1, t.v2, t.v3].map(|v| mesh.vertices[v].z);
            // It stands on the bed: 5 mm lower than in the file.
            assert!(z.iter().all(|z| *z == 0.0 || *z == 10.0));
            let expected = match (number, z == [10.0; 3]) {
                (1, _) => (10, 20, 200, 255),
                (_, true) => (200, 10, 20, 255),
                _ => (0xd8, 0xd6, 0xcf, 255),
            };
            assert_eq!(colours[t.p1.expect("a colour")], expected);
            // Left out, the first holds for the whole triangle.
            assert!(t.p2.is_none() && t.p3.is_none());
        }
    }
    assert_eq!(
        bytes,
        job.threemf(&[]).expect("written"),
        "the same bytes every time"
    );
}

#[test]
fn an_empty_job_has_nothing_to_hand_over() {
    let job = Job::default();
    let refused = job.threemf(&[]).expect_err("nothing to write");
    assert_eq!(refused.code, "export-empty");
    let refused = closed_bodies(&job, BodyDepth::Soak, &|_| true).expect_err("nothing to write");
    assert_eq!(refused.code, "export-empty");
    let twice = [
        ("a.txt".to_string(), vec![1]),
        ("a.txt".to_string(), vec![2]),
    ];
    assert_eq!(
        zip_files(&twice).expect_err("one name twice").code,
        "export-failed"
    );
}

#[test]
fn stl_goes_out_and_comes_back_the_same() {
    let open = crate::shapes::open(&pier_light());
    let bytes = write_stl(&open.mesh, 0..open.mesh.facets.len() as u32, "solid enough");
    assert_eq!(bytes.len(), 84 + 50 * open.mesh.facets.len());
    let again = OpenMesh::from_bytes(&bytes).expect("own STL");
    assert_eq!(again.mesh, open.mesh);
    // The normals in the file are those of the facets.
    for (facet, record) in bytes[84..].chunks_exact(50).enumerate().step_by(977) {
        let value = |i: usize| {
            f32::from_le_bytes([
                record[4 * i],
                record[4 * i + 1],
                record[4 * i + 2],
                record[4 * i + 3],
            ])
        };
        let written = [0, 1, 2].map(|i| f64::from(value(i)));
        let normal = facet_normal(&open.mesh.corners(facet as u32)).expect("an area");
        assert_relative_eq!(dot(written, normal), 1.0, epsilon = 1e-5);
    }
}

fn u32_at(bytes: &[u8], at: usize) -> u32 {
    u32::from_le_bytes([bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]])
}

fn f32_at(bytes: &[u8], at: usize) -> f64 {
    f64::from(f32::from_bits(u32_at(bytes, at)))
}

#[test]
fn the_browsers_mesh_is_laid_out_as_documented() {
    let open = crate::shapes::open(&float_in_ring());
    let bytes = mesh_bytes(&open);
    let (v, f) = (open.mesh.vertices.len(), open.mesh.facets.len());
    assert_eq!((&bytes[..4], u32_at(&bytes, 4)), (&b"VCM1"[..], 1));
    let header = [8, 12, 16].map(|at| u32_at(&bytes, at) as usize);
    assert_eq!(header, [v, f, 2]);
    assert_eq!(bytes.len(), 20 + 12 * v + 28 * f);
    for facet in (0..f).step_by(1009) {
        for corner in 0..3 {
            let id = u32_at(&bytes, 20 + 12 * v + 12 * facet + 4 * corner) as usize;
            assert_eq!(id as u32, open.mesh.facets[facet][corner]);
            for axis in 0..3 {
                assert_eq!(
                    f32_at(&bytes, 20 + 12 * id + 4 * axis),
                    open.mesh.vertices[id][axis]
                );
            }
            let at = 20 + 12 * v + 16 * f + 12 * facet + 4 * corner;
            let drawn = [0, 1, 2].map(|i| f64::from(bytes[at + i] as i8) / 127.0);
            let facing = facet_normal(&open.mesh.corners(facet as u32)).expect("an area");
            assert!(
                dot(drawn, facing) > 0.8,
                "a drawn normal leans away from its facet"
            );
        }
        assert_eq!(
            u32_at(&bytes, 20 + 12 * v + 12 * f + 4 * facet),
            open.part_of[facet]
        );
    }
}

#[test]
fn the_browsers_patches_have_their_borders() {
    let open = crate::shapes::open(&box_mesh([0.0; 3], [10.0, 20.0, 30.0]));
    let partition = open.creases().partition(&open.topology, 30.0);
    let bytes = partition_bytes(&open, &partition);
    assert_eq!(
        (&bytes[..4], u32_at(&bytes, 12), u32_at(&bytes, 16)),
        (&b"VCP1"[..], 6, 12)
    );
    let mut length = 0.0;
    let (sides, ends) = bytes[20 + 4 * 12..].split_at(12 * 8);
    assert_eq!(ends.len(), 12 * 24);
    for (side, edge) in sides.chunks_exact(8).zip(ends.chunks_exact(24)) {
        assert_ne!(u32_at(side, 0), u32_at(side, 4));
        let ends = [0, 1, 2].map(|i| f32_at(edge, 4 * i) - f32_at(edge, 12 + 4 * i));
        length += dot(ends, ends).sqrt();
    }
    // Four edges of each length.
    assert_relative_eq!(length, 4.0 * 60.0, max_relative = 1e-6);
    let smooth = open.creases().partition(&open.topology, 90.0);
    assert_eq!(u32_at(&partition_bytes(&open, &smooth), 16), 0);
}
