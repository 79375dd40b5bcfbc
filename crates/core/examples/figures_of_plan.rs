//! Prints the figures of Plan in docs/performance.md: orders, reloads, snags and ways, each at four sizes.

mod clock;

use clock::time;
use std::collections::HashMap;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::advice::{CheckedPlan, Snag, Trial, checked_plan};
use varichrom_core::job::{Edit, History, ModelEdit, Models, RegionEdit};
use varichrom_core::layers::{Settings, Touched, label, label_between, survey};
use varichrom_core::machine::Printer;
use varichrom_core::model::OpenMesh;
use varichrom_core::order::{CostTable, Turn, fewest_reloads, least_cost_order};
use varichrom_core::plan::Planner;
use varichrom_demo::{demo_jobs, rack, stl, subdivided_sphere};

#[derive(Default)]
struct Shelf(HashMap<String, Arc<OpenMesh>>);

impl Models for Shelf {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        let missing = || Problem::new("content-unknown", content, "", "");
        self.0.get(content).cloned().ok_or_else(missing)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        let missing = || Problem::new("content-unknown", content, "", "");
        varichrom_demo::file_beside(content)
            .map(Arc::new)
            .ok_or_else(missing)
    }
}

fn main() {
    println!("| work | measured | reach |\n|---|---|---|");
    orders();
    spheres();
    for job in demo_jobs() {
        let shelf = Shelf(HashMap::from([(
            job.file.to_string(),
            Arc::new(OpenMesh::from_bytes(&job.bytes).expect("sound")),
        )]));
        let mut edits = vec![Edit::Model(ModelEdit::OpenModel {
            model: job.model.into(),
            file: job.file.into(),
            content: job.file.into(),
        })];
        edits.extend(job.edits);
        let head = edits.len();
        let history = History::replay(edits, head, &shelf).expect("sound");
        on(job.name, &history, &shelf);
    }
}

fn orders() {
    let swap: CostTable = (0..16u32)
        .map(|a| {
            (0..16u32)
                .map(|b| f64::from((a * 37 + b * 101) % 83))
                .collect()
        })
        .collect();
    let tables = [swap];
    for (slots, wanted) in [(8u8, "0.05 s"), (16, "1 s")] {
        for layers in [125, 250, 500, 1000] {
            let turn = Turn {
                slots: (0..slots).collect(),
                ..Turn::default()
            };
            let turns = vec![turn; layers];
            let reach = if layers == 1000 { wanted } else { "" };
            time(
                &format!("exact order, {layers} layers, {slots} slots in each"),
                reach,
                3,
                || least_cost_order(&turns, &tables).expect("up to 16").cost,
            );
        }
    }
    // Sets that hardly ever repeat: eight of sixteen slots, by a fixed rule.
    let mixed: Vec<Turn> = (0..1000u32)
        .map(|l| {
            let mut slots: Vec<u8> = (0..8u32)
                .map(|i| {
                    ((l.wrapping_mul(2_654_435_761) >> 7).wrapping_mul(i * 2 + 1) >> 3) as u8 % 16
                })
                .collect();
            slots.sort_unstable();
            slots.dedup();
            Turn {
                slots,
                ..Turn::default()
            }
        })
        .collect();
    time(
        "exact order, 1000 layers, other slots in each",
        "",
        3,
        || least_cost_order(&mixed, &tables).expect("up to 16").cost,
    );
    let sets: Vec<Vec<u8>> = mixed.into_iter().map(|t| t.slots).collect();
    for layers in [125, 250, 500, 1000] {
        time(
            &format!("fewest reloads, {layers} layers, 16 colours, 4 places"),
            "",
            1,
            || fewest_reloads(&sets[..layers], 4).count(),
        );
    }
}

/// A sphere of 40 mm with four bands of colour, at four sizes: its layers, and an edit of one band to its new bill.
fn spheres() {
    for splits in [4, 5, 6, 7] {
        let open =
            OpenMesh::from_bytes(&stl(&subdivided_sphere(20.0, splits), "it")).expect("sound");
        let facets = open.mesh.facets.len();
        let shelf = Shelf(HashMap::from([("it".to_string(), Arc::new(open))]));
        let mut edits = vec![Edit::Model(ModelEdit::OpenModel {
            model: "it".into(),
            file: "it.stl".into(),
            content: "it".into(),
        })];
        let band = |region: &str, low_mm: f64, high_mm: f64| {
            Edit::band(region, [low_mm, high_mm], None, None)
        };
        for (slot, region) in (2u8..).zip(["a", "b", "c"]) {
            edits.push(Edit::Region(RegionEdit::AddRegion {
                region: region.into(),
                name: region.into(),
                colour: "#336699".parse().expect("a colour"),
                slot: Some(slot),
            }));
            let low = 10.0 * f64::from(slot - 1);
            edits.push(band(region, low, low + 8.0));
        }
        let head = edits.len();
        let mut history = History::replay(edits, head, &shelf).expect("sound");
        let settings = Settings::from(&history.job().printer);
        let (found, mut shares) = time(
            &format!("200 labelled layers of {facets} facets, 4 regions"),
            if splits == 7 { "0.5 s" } else { "" },
            2,
            || {
                let job = history.job();
                let found = survey(job.bodies(), settings, 0.8, &|_| true).expect("not stopped");
                let shares = label(&found, &job.claims());
                (found, shares)
            },
        );
        let spools = rack();
        time(
            &format!("band to new bill, {facets} facets"),
            if splits == 7 { "0.15 s" } else { "" },
            5,
            || {
                history.apply(band("a", 5.0, 6.0), &shelf).expect("a band");
                let Touched::Heights(span) = history.touched() else {
                    panic!("a band touches heights")
                };
                label_between(&found, &history.job().claims(), None, span, &mut shares);
                let bill = checked_plan(history.job(), &spools, &shares)
                    .expect("few slots")
                    .bill;
                history.undo(&shelf).expect("undone");
                bill
            },
        );
    }
}

/// A job with its layers and its plan.
struct Standing<'a> {
    history: &'a History,
    shelf: &'a Shelf,
    planner: Planner,
    plan: CheckedPlan,
}

fn on(name: &str, history: &History, shelf: &Shelf) {
    let job = history.job();
    let mut planner = Planner::default();
    let shares = planner
        .advance(job.shape(), &job.claims(), &|_| true)
        .expect("not stopped");
    let spools = rack();
    let plan = time(&format!("plan of {name}"), "", 3, || {
        checked_plan(job, &spools, &shares).expect("few slots")
    });
    let standing = Standing {
        history,
        shelf,
        planner,
        plan,
    };
    let is_pier = name.starts_with("Pier");
    let snags = time(
        &format!("snags of {name}"),
        if is_pier { "0.3 s" } else { "" },
        1,
        || standing.snags(),
    );
    time(
        &format!("ways of {name}"),
        if is_pier { "1 s" } else { "" },
        1,
        || standing.ways(),
    );
    if std::env::args().any(|a| a == "--snags") {
        for snag in snags {
            println!(
                "  {:?}: {} [{}] {:?}",
                snag.sort, snag.what, snag.mend, snag.saves
            );
        }
    }
}

impl Standing<'_> {
    fn with<T>(&self, f: impl FnOnce(&Trial<'_>) -> T) -> T {
        let spools = rack();
        f(&Trial {
            job: self.history.job(),
            spools: &spools,
            planner: &self.planner,
            plan: &self.plan,
            models: self.shelf,
            go_on: &|| true,
        })
    }

    fn snags(&self) -> Vec<Snag> {
        self.with(|t| t.snags(&|_| ()).expect("not stopped"))
    }

    fn ways(&self) -> usize {
        self.with(|t| {
            let all = t.ways(&Printer::examples());
            let tried = all.iter().filter(|w| w.cannot.is_none());
            tried.filter(|w| t.figures(w).is_ok()).count()
        })
    }
}
