//! Print files and their moves, made in the background for the newest revision; and the beads of single layers, which are there at
//! once.

use super::planning::surveyors;
use super::searches::Searches;
use super::session::Session;
use super::trials::Planned;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::wire::{
    BeadView, BeadsView, HangingRun, MovesFile, MovesView, SearchState, SlotBeadsView,
};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use varichrom_core::Problem;
use varichrom_core::handover::{MovesOf, PrintFiles, job_layer_beads, moves_bytes, print_files};
use varichrom_core::job::Job;
use varichrom_core::machine::file_stem;
use varichrom_core::paths::Bead;

/// The print of a revision, or why there is none.
type Made = Result<Arc<PrintFiles>, Problem>;

/// The print files of a session, newest only.
#[derive(Default)]
pub(super) struct Printing(Searches<Made>);

impl Session {
    /// How far the moves of the job as it stands are, and what they come to; made if they are not there.
    pub(crate) fn moves(
        self: &Arc<Self>,
        workshop: &Arc<Workshop>,
        restart: bool,
    ) -> Result<MovesView, ApiError> {
        let revision = self.revision();
        let search = &self.printing.0;
        if search.wants(revision, "", restart)
            && let Some(planned) = self.planned(workshop, revision)?
        {
            let stop = search.begin(revision, "", Vec::new());
            let session = self.clone();
            tokio::task::spawn_blocking(move || session.make_print(&stop, &planned));
        }
        Ok(search.seen(revision, "", |state, done, found| {
            let made = found.first().and_then(|f| f.as_ref().ok());
            let file = |f: &varichrom_core::handover::PrintFile| MovesFile {
                name: f.name.clone(),
                slot: f.slot,
                bytes: f.text.len(),
                moves: f.steps.len(),
                seconds: f.pace.sum(),
            };
            MovesView {
                revision,
                state,
                done,
                files: made.map_or_else(Vec::new, |m| m.files.iter().map(file).collect()),
                figures: made.map_or_else(Vec::new, |m| m.figures.clone()),
                strand: made.map_or_else(Vec::new, |m| m.strand.clone()),
                hanging: made.map_or_else(Vec::new, |m| runs(&m.hanging)),
                problem: found.first().and_then(|f| f.as_ref().err().cloned()),
            }
        }))
    }

    /// Gives up making moves.
    pub(crate) fn stop_moves(&self) {
        self.printing.0.stop();
    }

    fn make_print(&self, stop: &Arc<AtomicBool>, planned: &Planned) {
        let search = &self.printing.0;
        let progress = |done: f64| {
            search.with(stop, |s| s.done = f64::max(s.done, done));
            self.goes_on(stop, planned.revision)
        };
        let made = surveyors(|| {
            print_files(
                &planned.job,
                &planned.rack,
                (&planned.plan, &planned.planner),
                (
                    &named(&planned.job, planned.revision),
                    Some(planned.revision),
                ),
                &progress,
            )
        });
        search.with(stop, |s| match made {
            Err(p) if p.is_stopped() => s.state = SearchState::Stopped,
            made => {
                s.found = vec![made.map(Arc::new)];
                s.state = SearchState::Ready;
            }
        });
    }

    /// All moves, format `VCV1`, with the revision they are of.
    ///
    /// # Errors
    /// `moves-not-ready`, and why there is no print.
    pub(crate) fn moves_bytes(&self) -> Result<(u32, Vec<u8>), ApiError> {
        let revision = self.revision();
        let made = self.made(revision).unwrap_or_else(|| {
            Err(Problem::new(
                "moves-not-ready",
                "The moves are still being made",
                "",
                "Wait until they are there.",
            )
            .of(varichrom_core::ProblemSort::Outdated))
        })?;
        Ok((revision, moves_bytes(&made)))
    }

    pub(super) fn made(&self, revision: u32) -> Option<Made> {
        let seen = |_, _: f64, found: &[Made]| found.first().cloned();
        self.printing.0.seen(revision, "", seen)
    }

    /// How long the print takes by its moves, and as planned from its layers, s; none while they are not made.
    pub(super) fn times_by_moves(&self, revision: u32) -> Option<[f64; 2]> {
        let made = self.made(revision)?.ok()?;
        let time = made.figures.iter().find(|f| f.of == MovesOf::Time)?;
        Some([time.moves, time.planned?])
    }

    /// All files that print the job as it stands; given up when nobody wants them any more.
    ///
    /// # Errors
    /// As for [`Session::ready_plan`] and [`print_files`].
    pub(crate) fn print_files(
        &self,
        workshop: &Workshop,
        is_wanted: &AtomicBool,
    ) -> Result<Arc<PrintFiles>, ApiError> {
        if let Some(Ok(made)) = self.made(self.revision()) {
            return Ok(made);
        }
        let (job, plan, planner) = self.standing()?;
        let rack = workshop.rack()?;
        let go_on = |_: f64| is_wanted.load(Ordering::Relaxed);
        let revision = self.revision();
        let name = named(&job, revision);
        let named = (name.as_str(), Some(revision));
        let made = print_files(&job, &rack, (&plan, &planner), named, &go_on)?;
        Ok(Arc::new(made))
    }

    /// The beads of a layer, for one piece.
    ///
    /// # Errors
    /// As for [`Session::ready_plan`]; not found beyond the last layer.
    pub(crate) fn beads(&self, layer: usize) -> Result<BeadsView, ApiError> {
        let (job, _, planner) = self.standing()?;
        let found = job_layer_beads(&job, &planner, layer);
        let found = found.ok_or(ApiError::NotFound("layer"))?;
        let slots = found.slots.iter().map(|slot| SlotBeadsView {
            slot: slot.slot,
            beads: slot
                .islands
                .iter()
                .flatten()
                .chain(&slot.sparse)
                .map(view)
                .collect(),
        });
        Ok(BeadsView {
            revision: self.revision(),
            slots: slots.collect(),
        })
    }

    /// The job with its plan and what that was made with.
    pub(super) fn standing(&self) -> Result<Standing, ApiError> {
        let revision = self.revision();
        let not_ready = self.ready_plan().err();
        match self.planning.standing(revision) {
            Some((plan, planner)) => Ok((self.with_job(Job::clone), plan, planner)),
            None => Err(not_ready.unwrap_or(ApiError::NotFound("plan"))),
        }
    }
}

/// Layers that follow on one another, taken together; the worst first.
fn runs(hanging: &[(usize, f64)]) -> Vec<HangingRun> {
    let mut found: Vec<HangingRun> = Vec::new();
    for (layer, mm2) in hanging {
        match found.last_mut().filter(|run| run.last + 1 == *layer) {
            Some(run) => (run.last, run.most_mm2) = (*layer, run.most_mm2.max(*mm2)),
            None => found.push(HangingRun {
                first: *layer,
                last: *layer,
                most_mm2: *mm2,
            }),
        }
    }
    found.sort_by(|a, b| b.most_mm2.total_cmp(&a.most_mm2));
    found
}

pub(super) type Standing = (
    Job,
    Arc<varichrom_core::advice::CheckedPlan>,
    varichrom_core::plan::Planner,
);

fn view(bead: &Bead) -> BeadView {
    // A thousandth of a mm is more than any screen shows.
    let round = |mm: f64| (1000.0 * mm).round() / 1000.0;
    BeadView {
        kind: bead.kind,
        is_closed: bead.is_closed,
        line: bead
            .line
            .iter()
            .map(|j| [round(j.at[0]), round(j.at[1]), round(j.width)])
            .collect(),
    }
}

/// What the names of a job's print files begin with, by the printer's pattern.
fn named(job: &Job, revision: u32) -> String {
    let printer = &job.printer;
    file_stem(&printer.printing.file_name, &|value| match value {
        "job" => stem(job),
        "revision" => revision.to_string(),
        "machine" => printer.profile().kind.to_string(),
        "printer" => printer.name.clone(),
        "date" => time::OffsetDateTime::now_utc().date().to_string(),
        _ => String::new(),
    })
}

/// What the names of a job's files begin with: its name in the letters that every file system and header takes.
pub(crate) fn stem(job: &Job) -> String {
    let mut out = String::new();
    for c in job.name.chars().take(60) {
        if c.is_ascii_alphanumeric() {
            out.push(c.to_ascii_lowercase());
        } else if !out.ends_with('-') && !out.is_empty() {
            out.push('-');
        }
    }
    match out.trim_end_matches('-') {
        "" => "job".into(),
        stem => stem.into(),
    }
}
