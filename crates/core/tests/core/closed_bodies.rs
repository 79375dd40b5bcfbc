//! The print as closed bodies, against the plan's layers and a reader of STL.

use crate::jobs_of::Shelf;
use crate::painting::{UP, after, cube, patch, stroke};
use approx::assert_relative_eq;
use serde_json::json;
use std::io::{Cursor, Read};
use std::sync::Arc;
use varichrom_core::handover::{BodyDepth, ClosedBodies, closed_bodies, parts_zip};
use varichrom_core::job::{Edit, History, Job, JobEdit};
use varichrom_core::layers::{Settings, label, survey};
use varichrom_core::model::OpenMesh;
use varichrom_core::regions::Reach;
use varichrom_core::solids::{Meeting, Solid, meetings};
use varichrom_demo::{box_mesh, demo_jobs, stl, together};

fn bodies(job: &Job, depth: BodyDepth) -> ClosedBodies {
    closed_bodies(job, depth, &|_| true)
        .expect("a job with models")
        .expect("not stopped")
}

/// Volume of each region in the layers and in the bodies, mm³.
fn volumes(job: &Job, made: &ClosedBodies) -> Vec<(f64, f64)> {
    let settings = Settings::from(&job.printer);
    let found =
        survey(job.bodies(), settings, job.deepest_soak_mm(), &|_| true).expect("not stopped");
    let mut of = vec![(0.0, 0.0); job.regions.len()];
    for layer in label(&found, &job.claims()) {
        for (region, share) in layer.regions.iter().enumerate() {
            of[region].0 += share.area_mm2 * (layer.z1_mm - layer.z0_mm);
        }
    }
    for body in &made.bodies {
        of[body.number as usize].1 += body.volume_mm3;
    }
    of
}

fn assert_disjoint_and_closed(made: &ClosedBodies) {
    assert!(made.bodies.iter().all(|b| b.is_closed));
    let solids: Vec<Solid> = made.bodies.iter().map(|b| b.solid.clone()).collect();
    for pair in meetings(&solids, &|_, _| true).expect("not stopped") {
        if let Meeting::Overlap { volume_mm3, .. } = pair.meeting {
            // Rounding of cuts along curved surfaces.
            assert!(
                volume_mm3 < 1e-2,
                "{:?} share {volume_mm3} mm³",
                pair.bodies
            );
        }
    }
}

/// What a job of the demo is after its edits.
fn demo(name: &str) -> History {
    let demo = demo_jobs()
        .into_iter()
        .find(|d| d.name == name)
        .expect(name);
    let mut shelf = Shelf::default();
    let open = OpenMesh::from_bytes(&demo.bytes).expect("a sound file");
    shelf.0.insert(demo.model.into(), Arc::new(open));
    let mut edits = vec![crate::jobs_of::open_model(demo.model)];
    edits.push(Edit::Job(JobEdit::RenameJob { name: name.into() }));
    edits.extend(demo.edits);
    let head = edits.len();
    History::replay(edits, head, &shelf).expect("sound edits")
}

#[test]
fn every_demo_job_goes_out_as_bodies_that_hold_what_its_layers_hold() {
    for shown in demo_jobs() {
        let history = demo(shown.name);
        let job = history.job();
        let made = bodies(job, BodyDepth::Soak);
        assert_disjoint_and_closed(&made);
        assert!(made.told.is_empty(), "{:?}", made.told);
        let of = volumes(job, &made);
        let sum = |of: &[(f64, f64)]| of.iter().fold((0.0, 0.0), |s, v| (s.0 + v.0, s.1 + v.1));
        // A plate's top may end on the middle of a layer, which then counts whole.
        let (layers, bodies) = sum(&of);
        assert_relative_eq!(layers, bodies, max_relative = 0.02);
        // Within walls thinner than two depths, floors that come from both sides leave a little to the part's own region.
        for (region, (layers, bodies)) in job.regions.iter().zip(&of) {
            let off = (layers - bodies).abs();
            assert!(
                off < 0.03 * layers + 0.013 * sum(&of).0,
                "{} {}: {layers} {bodies}",
                job.name,
                region.name
            );
        }
    }
}

#[test]
fn painted_faces_of_a_box_come_out_as_frusta_and_the_part_without_them() {
    // Lifted off the bed, on which the bodies are to stand.
    let block = stl(&box_mesh([0.0, 0.0, 7.0], [20.0, 20.0, 27.0]), "block");
    let edits = [
        patch("red", [5.0, 5.0, 27.0], UP, 20.0),
        patch("blue", [20.0, 5.0, 12.0], [1.0, 0.0, 0.0], 20.0),
    ];
    let history = after(&block, &edits);
    let made = bodies(history.job(), BodyDepth::Soak);
    // 0.8 mm deep, mitred on all sides.
    let frustum = (400.0 + 18.4 * 18.4 + 20.0 * 18.4) * 0.8 / 3.0;
    let volumes: Vec<f64> = made.bodies.iter().map(|b| b.volume_mm3).collect();
    for (found, wanted) in volumes
        .iter()
        .zip([frustum, frustum, 8000.0 - 2.0 * frustum])
    {
        assert_relative_eq!(*found, wanted, max_relative = 1e-6);
    }
    assert!(
        made.bodies
            .iter()
            .all(|b| b.solid.bounds().min[2] > -1e-9 && b.solid.bounds().max[2] < 20.0 + 1e-9)
    );
    let plain = bodies(history.job(), BodyDepth::Surface);
    assert_eq!(plain.bodies.len(), 1);
    assert_relative_eq!(plain.bodies[0].volume_mm3, 8000.0, max_relative = 1e-9);
}

#[test]
fn a_spot_goes_straight_through_and_what_cannot_goes_as_deep_as_it_soaks() {
    let spot = stroke(Reach::Dab, &[[10.0, 10.0, 20.0]], 4.0, [10.0, 10.0, 90.0]);
    let side = patch("blue", [20.0, 5.0, 12.0], [1.0, 0.0, 0.0], 20.0);
    let history = after(&cube(20.0), &[spot, side]);
    let made = bodies(history.job(), BodyDepth::Through);
    assert_disjoint_and_closed(&made);
    let told: Vec<&str> = made.told.iter().map(|t| t.code.as_str()).collect();
    // All of a side, pushed through, would leave nothing.
    assert_eq!(told, ["bodies-not-through"]);
    let volumes: Vec<f64> = made.bodies.iter().map(|b| b.volume_mm3).collect();
    assert_relative_eq!(
        volumes[0],
        20.0 * std::f64::consts::PI * 16.0,
        max_relative = 5e-3
    );
    let frustum = (400.0 + 18.4 * 18.4 + 20.0 * 18.4) * 0.8 / 3.0;
    assert_relative_eq!(volumes[1], frustum, max_relative = 1e-6);
    assert_relative_eq!(volumes.iter().sum::<f64>(), 8000.0, max_relative = 1e-6);
}

#[test]
fn what_parts_share_is_cut_out_of_the_lower_one() {
    let boxes = [
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([5.0, 2.0, 2.0], [15.0, 8.0, 8.0]),
        box_mesh([20.0, 0.0, 0.0], [24.0; 3]),
    ];
    let history = after(&stl(&together(&boxes), "boxes"), &[]);
    let made = bodies(history.job(), BodyDepth::Soak);
    assert_disjoint_and_closed(&made);
    let volumes: Vec<f64> = made.bodies.iter().map(|b| b.volume_mm3).collect();
    assert_eq!(volumes.len(), 3);
    for (found, wanted) in volumes.iter().zip([1000.0, 5.0 * 36.0, 4.0 * 24.0 * 24.0]) {
        assert_relative_eq!(*found, wanted, max_relative = 1e-6);
    }
}

#[test]
fn a_part_that_is_not_closed_goes_out_as_it_is_and_that_is_said() {
    let mut open = box_mesh([0.0; 3], [10.0; 3]);
    open.facets.pop();
    let history = after(&stl(&open, "open"), &[]);
    let made = bodies(history.job(), BodyDepth::Soak);
    assert_eq!((made.bodies.len(), made.bodies[0].is_closed), (1, false));
    assert_eq!(made.told[0].code, "bodies-not-closed");
}

#[test]
fn the_zip_names_job_part_colour_and_date_and_says_what_is_lost() {
    let history = demo("Compass-rose coaster");
    let job = history.job();
    let made = bodies(job, BodyDepth::Soak);
    let bytes = parts_zip(job, &made, "2031-05-24").expect("written");
    assert_eq!(
        bytes,
        parts_zip(job, &made, "2031-05-24").expect("written"),
        "the same bytes every time"
    );
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).expect("read back");
    let names: Vec<String> = archive
        .file_names()
        .map(|n| n.expect("a name").into_owned())
        .collect();
    assert_eq!(names.len(), made.bodies.len() + 2);
    let mut read = |name: &str| {
        let mut bytes = Vec::new();
        archive
            .by_name(name)
            .expect(name)
            .read_to_end(&mut bytes)
            .expect(name);
        bytes
    };
    let note = String::from_utf8(read("READ-ME.txt")).expect("text");
    for (name, body) in names.iter().zip(&made.bodies) {
        assert!(
            name.contains("compass-rose-coaster") && name.ends_with("-2031-05-24.stl"),
            "{name}"
        );
        let line = note
            .lines()
            .find(|l| l.starts_with(name.as_str()))
            .expect("told of");
        assert!(
            line.contains(&body.region) && line.contains(&body.colour.to_string()),
            "{line}"
        );
        let open = OpenMesh::from_bytes(&read(name)).expect("an STL");
        assert!(open.volume_mm3() > 0.0 && open.parts.iter().all(|p| p.is_closed));
        assert_relative_eq!(open.volume_mm3(), body.volume_mm3, max_relative = 1e-4);
    }
    for word in ["colours", "units", "millimetres", "one origin"] {
        assert!(note.contains(word), "{word}: {note}");
    }
}

#[test]
fn a_stop_ends_the_making_of_bodies() {
    let history = demo("Compass-rose coaster");
    let stopped =
        closed_bodies(history.job(), BodyDepth::Soak, &|_| false).expect("a job with models");
    assert!(stopped.is_none());
}

#[test]
fn a_part_inside_out_and_one_with_a_cavity_go_out_as_any_other() {
    let turned = |mut mesh: varichrom_core::mesh::Mesh| {
        mesh.facets.iter_mut().for_each(|f| f.reverse());
        mesh
    };
    let frustum = (400.0 + 18.4 * 18.4 + 20.0 * 18.4) * 0.8 / 3.0;
    // All facets turned over: its top looks down.
    let inside_out = stl(&turned(box_mesh([0.0; 3], [20.0; 3])), "turned");
    let top = patch("red", [5.0, 5.0, 20.0], [0.0, 0.0, -1.0], 20.0);
    // A cavity of 10 mm in the middle.
    let hollow = together(&[
        box_mesh([0.0; 3], [20.0; 3]),
        turned(box_mesh([5.0; 3], [15.0; 3])),
    ]);
    let hollow = stl(&hollow, "hollow");
    for (bytes, edit, whole) in [
        (inside_out, top, 8000.0),
        (hollow, patch("red", [5.0, 5.0, 20.0], UP, 20.0), 7000.0),
    ] {
        let made = bodies(after(&bytes, &[edit]).job(), BodyDepth::Soak);
        assert!(made.told.is_empty(), "{:?}", made.told);
        assert_disjoint_and_closed(&made);
        let volumes: Vec<f64> = made.bodies.iter().map(|b| b.volume_mm3).collect();
        assert_relative_eq!(volumes[0], frustum, max_relative = 1e-6);
        assert_relative_eq!(volumes.iter().sum::<f64>(), whole, max_relative = 1e-6);
    }
}

/// Colour goes in from the surface, not from where a band right through cuts the part: beside it a ring ends on the cut.
#[test]
fn colour_beside_a_band_right_through_ends_on_its_cut() {
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 30.0]), "box");
    let edits = [
        json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#203040", "slot": 3 }),
        json!({ "edit": "set-soak", "region": "red", "soak_mm": 0.8 }),
        json!({ "edit": "give-band", "region": "red", "low_mm": 5.0, "high_mm": 24.0 }),
        json!({ "edit": "give-band", "region": "lid", "low_mm": 10.0, "high_mm": 20.0, "depth": "through" }),
    ];
    let edits = edits.map(|e| serde_json::from_value(e).expect("an edit"));
    let history = after(&bytes, &edits);
    let made = bodies(history.job(), BodyDepth::Soak);
    assert_disjoint_and_closed(&made);
    let of = |name: &str| -> f64 {
        let of = made.bodies.iter().filter(|b| b.region == name);
        of.map(|b| b.volume_mm3).sum()
    };
    assert_relative_eq!(of("red"), 9.0 * (400.0 - 18.4 * 18.4), max_relative = 1e-6);
    assert_relative_eq!(of("Lid"), 4000.0, max_relative = 1e-6);
    let sum: f64 = made.bodies.iter().map(|b| b.volume_mm3).sum();
    assert_relative_eq!(sum, 12000.0, max_relative = 1e-9);
}
