//! Prints the figures of docs/performance.md, measured once on this machine: `cargo xtask bench`.

mod clock;

use clock::time;
use std::sync::Arc;
use std::time::Instant;
use varichrom_core::Problem;
use varichrom_core::advice::checked_plan;
use varichrom_core::carve::Labels;
use varichrom_core::colour::Colour;
use varichrom_core::job::{Edit, GiveEdit, History, ModelEdit, Models, RegionEdit};
use varichrom_core::layers::{Body, Claims, Settings, Touched, label, label_between, survey};
use varichrom_core::machine::Printer;
use varichrom_core::mesh::Mesh;
use varichrom_core::model::{OpenMesh, Place};
use varichrom_core::regions::{Reach, Sight, Stroke, Within};
use varichrom_demo::{
    PLAQUE_FIRST_STROKE_MM, PLAQUE_FLOOR_MM, PlyKind, obj, ply, rack, signal_tiles, stl,
    subdivided_sphere, threemf, tide_plaque, vrml,
};

struct One(Arc<OpenMesh>);

impl Models for One {
    fn open(&self, _: &str) -> Result<Arc<OpenMesh>, Problem> {
        Ok(self.0.clone())
    }
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
        varichrom_core::model::Creases::of(&open.mesh, &open.topology)
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
    let labels = Labels::of((0..facets).map(|f| Some(quarter(f))).collect());
    let claims = Claims {
        labels: vec![&labels],
        own: vec![0],
        skipped: Vec::new(),
        spans: Vec::new(),
        soak_mm: vec![0.8; 4],
        slot_of: Vec::new(),
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

    let through = Claims {
        soak_mm: vec![f64::INFINITY; 4],
        ..claims
    };
    time(
        "200 labelled layers of 327 680 facets, 4 regions right through",
        "0.8 s",
        3,
        || {
            let found = survey(body(), settings, 0.8, &|_| true).expect("not stopped");
            label(&found, &through)
        },
    );

    let (models, mut history) = job_of(&bytes);
    let open = models.0.clone();
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
    let dab = stroke("s", 20.0, 2.0);
    let mut layers = label(&found, &history.job().claims());
    time(
        "dab of 200 points to new bill, 327 680 facets",
        "0.15 s",
        5,
        || {
            history.apply(dab.clone(), &models).expect("on the mesh");
            let Touched::Heights(span) = history.touched() else {
                panic!("a dab touches heights")
            };
            label_between(&found, &history.job().claims(), None, span, &mut layers);
            let bill = checked_plan(history.job(), &spools, &layers)
                .expect("few slots")
                .bill;
            history.undo(&models).expect("undone");
            bill
        },
    );
    time("patch to new bill, 327 680 facets", "0.15 s", 5, || {
        let edit = Edit::Give(GiveEdit::GivePatch {
            region: "r".into(),
            at: at.clone(),
            crease_deg: 30.0,
            within: Within::Part,
            turn_deg: None,
        });
        history.apply(edit, &models).expect("on the mesh");
        let job = history.job();
        let bill = checked_plan(job, &spools, &label(&found, &job.claims()))
            .expect("few slots")
            .bill;
        history.undo(&models).expect("undone");
        bill
    });
    drop(found);
    colour_tools();
}

/// A stroke of 200 points around the top of a sphere.
fn stroke(model: &str, radius: f64, radius_mm: f64) -> Edit {
    let path = (0..200).map(|i| {
        let t = f64::from(i) / 199.0;
        let (polar, around) = (0.2 + 0.9 * t, 1.5 * t);
        let (s, c) = f64::sin_cos(polar);
        let (sa, ca) = f64::sin_cos(around);
        [radius * s * ca, radius * s * sa, radius * c]
    });
    Edit::Give(GiveEdit::GiveStroke {
        region: "r".into(),
        reach: Reach::Dab,
        stroke: Stroke {
            model: model.into(),
            path: path.collect(),
            radius_mm,
            eye: [radius * 3.0, radius * 2.0, radius * 8.0],
        },
    })
}

/// The tools of Colour at four sizes: doing, and taking back.
fn colour_tools() {
    for splits in [5u32, 6, 7, 8] {
        let bytes = stl(&subdivided_sphere(50.0, splits), "sphere");
        let (models, mut history) = job_of(&bytes);
        let open = models.0.clone();
        let facets = open.mesh.facets.len();
        let reach = |text: &'static str| if splits == 8 { text } else { "" };
        time(
            &format!("search by place, built once, {facets} facets"),
            "",
            1,
            || open.tree().within([0.0; 3], 1.0),
        );
        open.creases();
        history
            .apply(stroke("s", 50.0, 2.0), &models)
            .expect("on it");
        history.undo(&models).expect("undone");
        let mut tool = |name: &str, wanted: &'static str, edit: &Edit| {
            let mut undo = f64::INFINITY;
            time(
                &format!("{name}, {facets} facets"),
                reach(wanted),
                5,
                || {
                    while history.head() > 2 {
                        let start = Instant::now();
                        history.undo(&models).expect("undone");
                        undo = undo.min(start.elapsed().as_secs_f64());
                    }
                    history.apply(edit.clone(), &models).expect("on it");
                },
            );
            println!("| … undone | {undo:.3} s | {} |", reach("0.05 s"));
            history.undo(&models).expect("undone");
        };
        tool("dab of 200 points", "0.05 s", &stroke("s", 50.0, 2.0));
        tool(
            "dip of 200 points",
            "",
            &match stroke("s", 50.0, 2.0) {
                Edit::Give(GiveEdit::GiveStroke { region, stroke, .. }) => {
                    Edit::Give(GiveEdit::GiveStroke {
                        region,
                        stroke,
                        reach: Reach::Dip,
                    })
                }
                other => other,
            },
        );
        let band = |low_mm, high_mm| Edit::band("r", [low_mm, high_mm], None, None);
        tool("band of 10 mm", "", &band(60.0, 70.0));
        let circle = (0..200).map(|i| std::f64::consts::TAU * f64::from(i) / 200.0);
        tool(
            "lasso of 200 corners, what is seen",
            "",
            &Edit::Give(GiveEdit::GiveLasso {
                region: "r".into(),
                outline: circle.map(|a| [0.15 * a.cos(), 0.15 * a.sin()]).collect(),
                sight: Sight {
                    eye: [0.0, 0.0, 250.0],
                    right: [1.0, 0.0, 0.0],
                    up: [0.0, 1.0, 0.0],
                },
                through: false,
            }),
        );
    }
    let (models, mut history) = job_of(&stl(&tide_plaque(), "plaque"));
    models.0.creases();
    models.0.tree();
    let [x, y] = PLAQUE_FIRST_STROKE_MM;
    let relief = Edit::Give(GiveEdit::GiveRelief {
        region: "r".into(),
        at: Place {
            model: "s".into(),
            point: [x, y, PLAQUE_FLOOR_MM],
            normal: [0.0, 0.0, 1.0],
        },
        crease_deg: 30.0,
        all: true,
        through: false,
    });
    time("relief of all letters of the plaque", "0.1 s", 5, || {
        history.apply(relief.clone(), &models).expect("a letter");
        history.undo(&models).expect("undone");
    });
    // A dense relief: the four tiles, every facet in 1024.
    let dense = stl(&split_in_four(&signal_tiles(), 5), "tiles");
    let (models, mut history) = job_of(&dense);
    models.0.creases();
    models.0.tree();
    let relief = Edit::Give(GiveEdit::GiveRelief {
        region: "r".into(),
        at: Place {
            model: "s".into(),
            point: [15.0, 15.0, 3.4],
            normal: [0.0, 0.0, 1.0],
        },
        crease_deg: 30.0,
        all: true,
        through: false,
    });
    let facets = models.0.mesh.facets.len();
    time(
        &format!("relief and all at its height, {facets} facets"),
        "0.1 s",
        5,
        || {
            history.apply(relief.clone(), &models).expect("a device");
            history.undo(&models).expect("undone");
        },
    );
}

fn split_in_four(mesh: &Mesh, times: u32) -> Mesh {
    let mut mesh = mesh.clone();
    for _ in 0..times {
        let mut middle = std::collections::HashMap::new();
        let mut facets = Vec::with_capacity(4 * mesh.facets.len());
        for f in &mesh.facets {
            let m = [0, 1, 2].map(|k| {
                let (a, b) = (f[k], f[(k + 1) % 3]);
                *middle.entry((a.min(b), a.max(b))).or_insert_with(|| {
                    let (p, q) = (mesh.vertices[a as usize], mesh.vertices[b as usize]);
                    mesh.vertices.push([0, 1, 2].map(|i| 0.5 * (p[i] + q[i])));
                    mesh.vertices.len() as u32 - 1
                })
            });
            facets.extend([
                [f[0], m[0], m[2]],
                [m[0], f[1], m[1]],
                [m[2], m[1], f[2]],
                m,
            ]);
        }
        mesh.facets = facets;
    }
    mesh
}

/// A job of one model `s` with a region `r`.
fn job_of(bytes: &[u8]) -> (One, History) {
    let models = One(Arc::new(OpenMesh::from_bytes(bytes).expect("sound")));
    let edits = vec![
        Edit::Model(ModelEdit::OpenModel {
            model: "s".into(),
            file: "s.stl".into(),
            content: "s".into(),
        }),
        Edit::Region(RegionEdit::AddRegion {
            region: "r".into(),
            name: "R".into(),
            colour: Colour([200, 40, 30]),
            slot: Some(2),
        }),
    ];
    let history = History::replay(edits, 2, &models).expect("sound");
    (models, history)
}
