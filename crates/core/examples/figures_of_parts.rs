//! Prints the figures of docs/performance.md for closed parts: `cargo xtask bench`.

mod clock;

use clock::time;
use std::collections::HashMap;
use std::sync::Arc;
use std::time::Instant;
use varichrom_core::Problem;
use varichrom_core::geometry::Affine;
use varichrom_core::job::{CutPlane, Depth, Edit, Fragments, History, ModelEdit, Models, PartEdit};
use varichrom_core::mesh::Mesh;
use varichrom_core::model::{OpenMesh, Place};
use varichrom_core::solids::{Plane, Solid, cut_by_plane, meetings, split_shells};
use varichrom_demo::{
    PLAQUE_FIRST_STROKE_MM, PLAQUE_FLOOR_MM, gull, stl, subdivided_sphere, tide_plaque, together,
};

struct Files(HashMap<String, Arc<OpenMesh>>);

impl Models for Files {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        Ok(self.0[content].clone())
    }
}

fn job_of(mesh: &Mesh) -> (Files, History) {
    let open = OpenMesh::from_bytes(&stl(mesh, "it")).expect("a sound mesh");
    let files = Files(HashMap::from([("it".to_string(), Arc::new(open))]));
    let open = Edit::Model(ModelEdit::OpenModel {
        model: "it".into(),
        file: "it.stl".into(),
        content: "it".into(),
    });
    let history = History::replay(vec![open], 1, &files).expect("it opens");
    (files, history)
}

fn solid(mesh: &Mesh) -> Solid {
    Solid::plain(mesh.clone())
}

fn moved(mesh: &Mesh, by: [f64; 3]) -> Mesh {
    let map = Affine::shift(by);
    Mesh {
        vertices: mesh.vertices.iter().map(|p| map.apply(*p)).collect(),
        facets: mesh.facets.clone(),
    }
}

/// Spheres in a grid, each of 20 · 4^splits facets.
fn spheres(count: usize, splits: u32, pitch: f64) -> Vec<Mesh> {
    let one = subdivided_sphere(5.0, splits);
    let side = (count as f64).cbrt().ceil() as usize;
    (0..count)
        .map(|i| {
            let at = [i % side, i / side % side, i / side / side];
            moved(&one, at.map(|n| n as f64 * pitch))
        })
        .collect()
}

fn at(point: [f64; 3], normal: [f64; 3]) -> Place {
    Place {
        model: "it".into(),
        point,
        normal,
    }
}

fn region() -> Edit {
    serde_json::from_value(serde_json::json!({
        "edit": "add-region", "region": "red", "name": "red", "colour": "#aa3322"
    }))
    .expect("an edit")
}

/// An edit applied and taken back, some times over; the best of both is printed.
fn edit_and_undo(name: &str, reach: &str, files: &Files, history: &mut History, edit: &Edit) {
    let (mut done, mut undone) = (f64::INFINITY, f64::INFINITY);
    for _ in 0..3 {
        let start = Instant::now();
        history
            .apply(edit.clone(), files)
            .unwrap_or_else(|p| panic!("{p}"));
        done = done.min(start.elapsed().as_secs_f64());
        let start = Instant::now();
        history.undo(files).expect("an undo");
        undone = undone.min(start.elapsed().as_secs_f64());
    }
    println!("| {name} | {done:.3} s, undo {undone:.3} s | {reach} |");
}

fn main() {
    println!("| work | measured | reach |\n|---|---|---|");
    // 168 shells of 5 120 facets and 22 of 20 480.
    let mut many = spheres(168, 4, 12.0);
    many.extend(
        spheres(22, 5, 12.0)
            .iter()
            .map(|m| moved(m, [0.0, 0.0, 200.0])),
    );
    let all = together(&many);
    println!(
        "| (shells: {}, facets: {}) | | |",
        many.len(),
        all.facets.len()
    );
    let whole = solid(&all);
    let bodies = time("split 1.3 M facets into 190 shells", "0.3 s", 3, || {
        split_shells(&whole)
    });
    assert_eq!(bodies.len(), many.len());

    let large = solid(&subdivided_sphere(50.0, 8));
    let plane = Plane {
        normal: [0.0, 0.0, 1.0],
        offset: 3.0,
    };
    time("cut 1 310 720 facets by a plane", "", 3, || {
        cut_by_plane(&large, &plane).is_ok()
    });

    // Every sphere meets its neighbours in a grid; half of them are finer.
    let (fine, coarse) = (spheres(100, 5, 9.5), spheres(100, 4, 9.5));
    let parts: Vec<Solid> = fine[..50].iter().chain(&coarse[50..]).map(solid).collect();
    let facets: usize = parts.iter().map(|p| p.mesh.facets.len()).sum();
    let found = time(
        &format!("all overlaps of 100 parts, {facets} facets"),
        "2 s",
        2,
        || meetings(&parts, &|_, _| true).expect("not stopped"),
    );
    println!("| ({} pairs) | | |", found.len());

    let (files, mut history) = job_of(&tide_plaque());
    history.apply(region(), &files).expect("a region");
    let [x, y] = PLAQUE_FIRST_STROKE_MM;
    let inlay = Edit::Part(PartEdit::Inlay {
        region: "red".into(),
        at: at([x, y, PLAQUE_FLOOR_MM], [0.0, 0.0, 1.0]),
        crease_deg: 30.0,
        all: true,
        layers: None,
        clearance_mm: 0.0,
        alike: false,
    });
    edit_and_undo(
        "inlay of the plaque, 19 letters",
        "0.5 s (40 letters)",
        &files,
        &mut history,
        &inlay,
    );

    let (files, mut history) = job_of(&gull());
    history.apply(region(), &files).expect("a region");
    let stroke = serde_json::json!({ "edit": "give-band", "region": "red", "low_mm": 20.0, "high_mm": 30.0 });
    history
        .apply(serde_json::from_value(stroke).expect("a band"), &files)
        .expect("a band");
    for (name, depth) in [
        (
            "region to part, gull of 77 136 facets, up to 0.8 mm",
            Depth::UpTo { mm: 0.8 },
        ),
        ("region to part, the same, 0.2 mm", Depth::UpTo { mm: 0.2 }),
    ] {
        let make = Edit::Part(PartEdit::FromRegion {
            region: "red".into(),
            at: None,
            depth,
            alike: false,
        });
        edit_and_undo(name, "1 s (100 000 facets)", &files, &mut history, &make);
    }
    let (files, mut history) = job_of(&subdivided_sphere(50.0, 6));
    history.apply(region(), &files).expect("a region");
    let stroke = serde_json::json!({ "edit": "give-band", "region": "red", "low_mm": 60.0, "high_mm": 90.0 });
    history
        .apply(serde_json::from_value(stroke).expect("a band"), &files)
        .expect("a band");
    let make = Edit::Part(PartEdit::FromRegion {
        region: "red".into(),
        at: None,
        depth: Depth::Mm { mm: 0.8 },
        alike: false,
    });
    edit_and_undo(
        "region to part, sphere of 81 920 facets, 0.8 mm",
        "1 s",
        &files,
        &mut history,
        &make,
    );
    let cut = Edit::Part(PartEdit::Cut {
        at: at([0.0, 0.0, -50.0], [0.0, 0.0, -1.0]),
        plane: CutPlane::Height { mm: 33.3 },
        alike: false,
    });
    edit_and_undo(
        "cut in two, sphere of 81 920 facets",
        "",
        &files,
        &mut history,
        &cut,
    );

    let (files, mut history) = job_of(&all);
    let places: Vec<Place> = many[..40]
        .iter()
        .map(|m| {
            let c = m.corners(0);
            let n = varichrom_core::geometry::facet_normal(&c).expect("a facet");
            at([0, 1, 2].map(|i| (c[0][i] + c[1][i] + c[2][i]) / 3.0), n)
        })
        .collect();
    let join = Edit::Part(PartEdit::Join { at: places.clone() });
    edit_and_undo(
        "join 40 parts of 190, 1.3 M facets",
        "",
        &files,
        &mut history,
        &join,
    );
    history.apply(join, &files).expect("a join");
    let split = Edit::Part(PartEdit::Split {
        at: places[0].clone(),
        smaller_mm3: 0.0,
        fragments: Fragments::Keep,
        alike: false,
    });
    edit_and_undo("split them again", "0.3 s", &files, &mut history, &split);
}
