//! A job with everything that advice is asked of: its layers and its plan.

use crate::jobs_of::{Shelf, open_model};
use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex};
use varichrom_core::advice::{CheckedPlan, Snag, Trial, planned};
use varichrom_core::job::{Edit, History};
use varichrom_core::model::OpenMesh;
use varichrom_core::plan::Planner;
use varichrom_demo::{demo_jobs, rack};

type ByName<T> = LazyLock<Mutex<HashMap<String, T>>>;
static PLANNED: ByName<(Planner, CheckedPlan)> = LazyLock::new(Mutex::default);
static SNAGS: ByName<Vec<Snag>> = LazyLock::new(Mutex::default);

/// A job with its layers and its plan.
pub(crate) struct Standing {
    pub(crate) history: History,
    pub(crate) shelf: Shelf,
    pub(crate) planner: Planner,
    pub(crate) plan: CheckedPlan,
}

impl Standing {
    pub(crate) fn of(history: History, shelf: Shelf) -> Standing {
        let (planner, plan) = plan_anew(&history);
        Standing {
            history,
            shelf,
            planner,
            plan,
        }
    }

    /// A job of the demo. Each is planned once for all tests.
    pub(crate) fn demo(name: &str) -> Standing {
        let demo = demo_jobs().into_iter().find(|j| j.name.starts_with(name));
        let demo = demo.expect("a demo job of that name");
        let mut shelf = Shelf::default();
        let open = OpenMesh::from_bytes(&demo.bytes).expect("sound");
        shelf.0.insert(demo.model.into(), Arc::new(open));
        let mut edits = vec![open_model(demo.model)];
        edits.extend(demo.edits);
        let head = edits.len();
        let history = History::replay(edits, head, &shelf).expect("sound edits");
        let mut known = PLANNED.lock().expect("not poisoned");
        let found = (known.entry(name.into())).or_insert_with(|| plan_anew(&history));
        let (planner, plan) = found.clone();
        Standing {
            history,
            shelf,
            planner,
            plan,
        }
    }

    /// The snags of a job of the demo, looked for once for all tests.
    pub(crate) fn snags_of_demo(name: &str) -> Vec<Snag> {
        let demo = Standing::demo(name);
        let mut known = SNAGS.lock().expect("not poisoned");
        let found = known.entry(name.into()).or_insert_with(|| demo.snags());
        found.clone()
    }

    pub(crate) fn trial<T>(&self, f: impl FnOnce(&Trial<'_>) -> T) -> T {
        let spools = rack();
        f(&Trial {
            job: self.history.job(),
            spools: &spools,
            planner: &self.planner,
            plan: &self.plan,
            models: &self.shelf,
            go_on: &|| true,
        })
    }

    pub(crate) fn snags(&self) -> Vec<Snag> {
        self.trial(|t| t.snags(&|_| ()).expect("not stopped"))
    }

    /// The job after an edit, everything worked out anew.
    pub(crate) fn after(mut self, edit: &Edit) -> Standing {
        self.history
            .apply(edit.clone(), &self.shelf)
            .expect("it was tried");
        Standing::of(self.history, self.shelf)
    }
}

fn plan_anew(history: &History) -> (Planner, CheckedPlan) {
    let mut planner = Planner::default();
    let plan = planned(&mut planner, history.job(), &rack(), &|_| true);
    (planner, plan.expect("few slots"))
}
