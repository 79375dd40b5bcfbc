//! All advice in one list: snags and ways by what they save, each with its edits.

use super::poses::pose_ways;
use super::trial::Trial;
use super::way_figures::WayFigures;
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

impl From<WayFigures> for AdviceFigures {
    fn from(figures: WayFigures) -> Self {
        AdviceFigures {
            swaps: figures.swaps as i64,
            purge_g: figures.purge_g,
            time_s: figures.time_s,
            cost: figures.cost,
        }
    }
}

impl AdviceFigures {
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
        let now: AdviceFigures = WayFigures::of(self.job, self.plan).into();
        let mut found = Vec::new();
        let mut add =
            |kind: String, words: String, keeps_look: bool, edit: Edit, then: WayFigures| {
                let then: AdviceFigures = then.into();
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
            };
        for snag in self.snags(&|_| ())? {
            if snag.accepted.is_none() {
                let words = format!("{}: {}", snag.mend, snag.what);
                add(
                    name(&snag.sort),
                    words,
                    snag.keeps_look,
                    snag.edit,
                    snag.then,
                );
            }
        }
        let poses = match most_poses {
            0 => Vec::new(),
            most => pose_ways(self.job, self.spools, most),
        };
        for way in self.ways(owned).into_iter().chain(poses) {
            let then = match self.figures(&way) {
                Ok(then) => then,
                Err(problem) if problem.is_stopped() => return Err(problem),
                // What cannot be done is no advice.
                Err(_) => continue,
            };
            if let Some(edit) = way.edit {
                let kind = format!("way-{}", name(&way.group));
                add(kind, way.name, way.keeps_look, edit, then);
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
