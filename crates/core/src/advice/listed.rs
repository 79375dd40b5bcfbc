//! All advice in one list: snags and ways by what they save, each with its edits.

use super::CheckedPlan;
use super::poses::pose_ways;
use super::trial::Trial;
use super::ways::ways;
use crate::Problem;
use crate::job::Edit;
use crate::machine::Printer;
use serde::Serialize;

/// What a plan comes to, as far as advice is about it; or how much less, negative where it is more.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
pub struct AdviceFigures {
    /// Swaps.
    pub swaps: i64,
    /// Purge, g.
    pub purge_g: f64,
    /// Time, s.
    pub time_s: f64,
    /// Cost.
    pub cost: f64,
}

impl AdviceFigures {
    fn of(plan: &CheckedPlan) -> AdviceFigures {
        let bill = &plan.bill;
        AdviceFigures {
            swaps: bill.swaps as i64,
            purge_g: bill.purge_g,
            time_s: bill.time_s,
            cost: bill.cost,
        }
    }

    fn less(&self, other: &AdviceFigures) -> AdviceFigures {
        AdviceFigures {
            swaps: self.swaps - other.swaps,
            purge_g: self.purge_g - other.purge_g,
            time_s: self.time_s - other.time_s,
            cost: self.cost - other.cost,
        }
    }
}

/// One piece of advice.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Advice {
    /// What kind it is.
    pub kind: String,
    /// What it does, and why.
    pub words: String,
    /// Whether what is printed looks the same.
    pub keeps_look: bool,
    /// What it saves.
    pub saves: AdviceFigures,
    /// What the job then comes to.
    pub then: AdviceFigures,
    /// The edits that bring it about, in order.
    pub edits: Vec<Edit>,
}

impl Trial<'_> {
    /// All advice that saves purge, swaps, time or cost: what keeps the look first, then what saves most purge. Each is planned in
    /// full. `owned`: the maker's printers; `most_poses`: how many ways to stand are tried.
    ///
    /// # Errors
    /// `stopped`.
    ///
    /// # Cost
    /// That of [`Trial::snags`], and a trial for each way.
    pub fn advice(&self, owned: &[Printer], most_poses: usize) -> Result<Vec<Advice>, Problem> {
        let mut all = Vec::new();
        let snags = self.snags(&|_| ())?.into_iter();
        for snag in snags.filter(|s| s.accepted.is_none()) {
            let words = format!("{}: {}", snag.mend, snag.what);
            all.push((name(&snag.sort), words, snag.keeps_look, snag.edit));
        }
        let poses = match most_poses {
            0 => Vec::new(),
            most => pose_ways(self.job, self.spools, most),
        };
        for way in ways(self.job, owned).into_iter().chain(poses) {
            if let Some(edit) = way.edit {
                all.push((
                    format!("way-{}", name(&way.group)),
                    way.name,
                    way.keeps_look,
                    edit,
                ));
            }
        }
        let now = AdviceFigures::of(self.plan);
        let mut found = Vec::new();
        for (kind, words, keeps_look, edit) in all {
            let tried = match self.with(&edit) {
                Ok(tried) => tried,
                Err(problem) if problem.is_stopped() => return Err(problem),
                // What cannot be done is no advice.
                Err(_) => continue,
            };
            let then = AdviceFigures::of(&tried.plan);
            let saves = now.less(&then);
            let is_worth = saves.swaps > 0
                || saves.purge_g > LEAST_G
                || saves.time_s > LEAST_S
                || saves.cost > LEAST_COST;
            if is_worth {
                found.push(Advice {
                    kind,
                    words,
                    keeps_look,
                    saves,
                    then,
                    edits: vec![edit],
                });
            }
        }
        found.sort_by(|a, b| {
            let look = b.keeps_look.cmp(&a.keeps_look);
            look.then(b.saves.purge_g.total_cmp(&a.saves.purge_g))
                .then(b.saves.swaps.cmp(&a.saves.swaps))
        });
        Ok(found)
    }
}

/// Savings below these are not worth a line: g, s and units of cost.
const LEAST_G: f64 = 0.05;
const LEAST_S: f64 = 30.0;
const LEAST_COST: f64 = 0.01;

/// What its JSON calls something.
fn name(of: &impl Serialize) -> String {
    let value = serde_json::to_value(of).unwrap_or_default();
    value.as_str().unwrap_or_default().to_string()
}
