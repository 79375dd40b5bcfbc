//! A job with everything that advice is asked of: its layers and its plan.

use crate::jobs_of::{Shelf, open_model};
use std::sync::Arc;
use varichrom_core::advice::{CheckedPlan, Snag, Trial, planned};
use varichrom_core::job::{Edit, History};
use varichrom_core::model::OpenMesh;
use varichrom_core::plan::Planner;
use varichrom_demo::{demo_jobs, rack};

/// A job with its layers and its plan.
pub(crate) struct Standing {
    pub(crate) history: History,
    pub(crate) shelf: Shelf,
    pub(crate) planner: Planner,
    pub(crate) plan: CheckedPlan,
}

impl Standing {
    pub(crate) fn of(history: History, shelf: Shelf) -> Standing {
        let job = history.job();
        let mut planner = Planner::default();
        let plan = planned(&mut planner, job, &rack(), &|_| true).expect("few slots");
        Standing {
            history,
            shelf,
            planner,
            plan,
        }
    }

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
        Standing::of(history, shelf)
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
