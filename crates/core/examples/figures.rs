//! Prints the figures of docs/performance.md, measured once on this machine: `cargo xtask bench`.

use std::sync::Arc;
use std::time::Instant;
use varichrom_core::Problem;
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, History, Models};
use varichrom_core::layers::{Body, Claims, Settings, label, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::OpenMesh;
use varichrom_core::order::{CostTable, least_cost_order};
use varichrom_core::plan::plan;
use varichrom_core::regions::Place;
use varichrom_demo::{PlyKind, obj, ply, rack, stl, subdivided_sphere, threemf, vrml};

struct One(Arc<OpenMesh>);

impl Models for One {
    fn open(&self, _: &str) -> Result<Arc<OpenMesh>, Problem> {
        Ok(self.0.clone())
    }
}

/// Runs something a few times and prints the best.
fn time<T>(name: &str, reach: &str, runs: usize, mut work: impl FnMut() -> T) -> T {
    let mut best = f64::INFINITY;
    let mut result = None;
    for _ in 0..runs {
        let start = Instant::now();
        result = Some(work());
        best = best.min(start.elapsed().as_secs_f64());
    }
    println!("| {name} | {best:.3} s | {reach} |");
    result.expect("at least one run")
}

/// Name, time to reach at 1 310 720 facets, and writer of each format.
type Format = (
    &'static str,
    &'static str,
    fn(&varichrom_core::mesh::Mesh) -> Vec<u8>,
);

const FORMATS: [Format; 6] = [
    ("STL, binary", "0.35 s", |m| stl(m, "it")),
    ("3MF", "2.5 s", |m| threemf(m, "it", "millimeter")),
    ("OBJ", "1.2 s", |m| obj(m, "it")),
    ("PLY, binary", "0.4 s", |m| ply(m, PlyKind::Little)),
    ("PLY, text", "", |m| ply(m, PlyKind::Text)),
    ("VRML97", "", |m| vrml(m, "it")),
];

fn main() {
    println!("| work | measured | reach |\n|---|---|---|");
    let large = stl(&subdivided_sphere(50.0, 8), "sphere");
    let open = time("open a binary STL of 1 310 720 facets", "0.35 s", 5, || {
        OpenMesh::from_bytes(&large).expect("sound")
    });
    time("turns at every edge of it, once", "", 3, || {
        varichrom_core::regions::Creases::of(&open.mesh, &open.topology)
    });
    time("all its patches at a new angle", "0.06 s", 5, || {
        open.creases().partition(&open.topology, 30.0).count
    });
    drop(open);
    drop(large);
    for (name, reach, write) in FORMATS {
        for splits in [5, 6, 7, 8] {
            let bytes = write(&subdivided_sphere(50.0, splits));
            let facets = 20 * 4u64.pow(splits);
            let megabytes = bytes.len() as f64 / 1e6;
            let reach = if splits == 8 { reach } else { "" };
            time(
                &format!("open {name}, {facets} facets, {megabytes:.0} MB"),
                reach,
                3,
                || OpenMesh::from_bytes(&bytes).expect("sound"),
            );
        }
    }

    let bytes = stl(&subdivided_sphere(20.0, 7), "sphere");
    let open = Arc::new(OpenMesh::from_bytes(&bytes).expect("sound"));
    let body = || {
        vec![Body {
            model: 0,
            open: open.clone(),
            part: 0,
            shift: [0.0, 0.0, 20.0],
        }]
    };
    let settings = Settings::from(&Printer::default());
    let facets = open.mesh.facets.len() as u32;
    let quarter = |f: u32| {
        let c = open.mesh.corners(f)[0];
        u16::from(c[0] > 0.0) + 2 * u16::from(c[1] > 0.0)
    };
    let labels: Vec<Option<u16>> = (0..facets).map(|f| Some(quarter(f))).collect();
    let claims = Claims {
        facet_region: vec![&labels],
        own: vec![0],
        soak_mm: vec![0.8; 4],
    };
    let found = time(
        "200 labelled layers of 327 680 facets, 4 regions",
        "0.5 s",
        3,
        || {
            let found = survey(body(), settings, 0.8, &|_| true).expect("not stopped");
            label(&found, &claims);
            found
        },
    );
    time("labelling them anew after an edit", "", 5, || {
        label(&found, &claims)
    });

    let swap: CostTable = (0..8u32)
        .map(|a| {
            (0..8u32)
                .map(|b| f64::from((a * 37 + b * 101) % 83))
                .collect()
        })
        .collect();
    let layers = vec![(0..8).collect::<Vec<u8>>(); 1000];
    time(
        "exact order, 1000 layers, 8 slots in each",
        "0.05 s",
        5,
        || least_cost_order(&layers, &swap).expect("eight slots").cost,
    );

    let models = One(open.clone());
    let edits = vec![
        Edit::OpenModel {
            model: "s".into(),
            file: "s.stl".into(),
            content: "s".into(),
        },
        Edit::AddRegion {
            region: "r".into(),
            name: "R".into(),
            colour: Colour([200, 40, 30]),
            slot: Some(2),
        },
    ];
    let mut history = History::replay(edits, 2, &models).expect("sound");
    let c = open.mesh.corners(7)[0];
    let at = Place {
        model: "s".into(),
        point: c,
        normal: c,
    };
    open.creases();
    open.tree();
    let spools = rack();
    let found = survey(history.job().bodies(), settings, 0.8, &|_| true).expect("not stopped");
    time("edit to new bill, 327 680 facets", "0.15 s", 5, || {
        let edit = Edit::GivePatch {
            region: "r".into(),
            at: at.clone(),
            crease_deg: 30.0,
        };
        history.apply(edit, &models).expect("on the mesh");
        let job = history.job();
        let bill = plan(job, &spools, &label(&found, &job.claims()))
            .expect("few slots")
            .bill;
        history.undo(&models).expect("undone");
        bill
    });
}
