//! Rehearsals: the job's print files on a simulated machine, watched at any speed. Nothing runs while nobody looks: each look goes on
//! as far as time has passed, and no longer than a look may take.

use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::wire::{BeginRehearsal, RehearsalView, RehearsedSlot};
use std::sync::Mutex;
use std::sync::atomic::AtomicBool;
use std::time::{Duration, Instant};
use varichrom_core::Problem;
use varichrom_core::gcode::rest_of;
use varichrom_core::handover::{rehearsal_setup, slot_names, text_to_rehearse};
use varichrom_core::rehearsal::{Answer, Rehearsal, Setup, Status, Trouble, TroubleKind, Verdict};

/// How long one look may take.
const LONGEST_LOOK: Duration = Duration::from_millis(120);

/// Happenings that a look shows.
const MOST_SHOWN: usize = 60;

/// The rehearsal of a session, if there is one.
#[derive(Default)]
pub(super) struct Rehearsing {
    stage: Mutex<Option<Stage>>,
    /// What the last one without any trouble came to, and of which revision.
    verdict: Mutex<Option<(u32, Verdict)>>,
}

/// What a rehearsal is of.
pub(super) struct ToRehearse {
    pub(super) text: String,
    pub(super) setup: Setup,
    /// Slots that it prints from.
    pub(super) used: Vec<u8>,
}

struct Stage {
    rehearsal: Rehearsal,
    /// What is rehearsed; the job may have changed since.
    text: String,
    /// The kept file that it is; none for the job's own.
    file: Option<i32>,
    revision: u32,
    speed: Option<f64>,
    looked: Instant,
    /// Whether anything was made to go wrong.
    is_troubled: bool,
    slots: Vec<RehearsedSlot>,
}

impl Session {
    /// Begins a rehearsal of the job as it stands; another one that goes on is given up.
    ///
    /// # Errors
    /// As for the print files of the job.
    pub(crate) fn begin_rehearsal(
        &self,
        workshop: &Workshop,
        asked: BeginRehearsal,
    ) -> Result<RehearsalView, ApiError> {
        let revision = self.revision();
        let is_troubled = !asked.troubles.is_empty();
        let ToRehearse { text, setup, used } = match asked.file {
            Some(file) => self.kept_to_rehearse(workshop, file, asked.troubles)?,
            None => self.own_to_rehearse(workshop, asked.troubles)?,
        };
        let slots = setup.slots.iter().zip(1u8..);
        let slots = slots
            .filter(|(_, slot)| used.contains(slot))
            .map(|(held, slot)| RehearsedSlot {
                slot,
                name: held.name.clone(),
                colour: held.pigment.colour,
                left_g: None,
            })
            .collect();
        let rehearsal = Rehearsal::new(&text, setup)?;
        *lock(&self.rehearsing.stage) = Some(Stage {
            rehearsal,
            text,
            file: asked.file,
            revision,
            speed: asked.speed,
            looked: Instant::now(),
            is_troubled,
            slots,
        });
        self.rehearsal()
    }

    /// Text of the job's own print files, and what a rehearsal of them begins with.
    fn own_to_rehearse(
        &self,
        workshop: &Workshop,
        troubles: Vec<Trouble>,
    ) -> Result<ToRehearse, ApiError> {
        let print = self.print_files(workshop, &AtomicBool::new(true))?;
        let (job, plan, _) = self.standing()?;
        let rack = workshop.rack()?;
        let setup = rehearsal_setup((&job, &rack), &plan, &print, troubles);
        let used = plan.needs.iter().filter(|n| n.model_g > 0.0);
        Ok(ToRehearse {
            text: text_to_rehearse(&print, &slot_names(&job, &rack)),
            setup,
            used: used.map(|n| n.slot).collect(),
        })
    }

    /// The rehearsal as it is by now.
    ///
    /// # Errors
    /// Not found where none was begun.
    pub(crate) fn rehearsal(&self) -> Result<RehearsalView, ApiError> {
        self.with_stage(|stage| stage.go_on())
    }

    /// A person has done something where the machine stands.
    pub(crate) fn answer_rehearsal(&self, answer: Answer) -> Result<RehearsalView, ApiError> {
        self.with_stage(|stage| {
            stage.is_troubled |= matches!(answer, Answer::Use { .. });
            stage.rehearsal.answer(answer);
            stage.looked = Instant::now();
        })
    }

    /// Another speed from now on.
    pub(crate) fn set_rehearsal_speed(
        &self,
        speed: Option<f64>,
    ) -> Result<RehearsalView, ApiError> {
        self.with_stage(|stage| {
            stage.go_on();
            stage.speed = speed.map(|s| s.clamp(0.0, 1e6));
        })
    }

    /// Something goes wrong now.
    pub(crate) fn trouble_rehearsal(&self, kind: TroubleKind) -> Result<RehearsalView, ApiError> {
        self.with_stage(|stage| {
            stage.is_troubled = true;
            stage.rehearsal.go_wrong(kind);
        })
    }

    /// No further.
    pub(crate) fn end_rehearsal(&self) {
        *lock(&self.rehearsing.stage) = None;
    }

    /// What the last rehearsal without any trouble came to, if it was of this revision.
    pub(crate) fn rehearsed(&self) -> Option<Verdict> {
        let verdict = lock(&self.rehearsing.verdict);
        let revision = self.revision();
        verdict
            .as_ref()
            .filter(|(of, _)| *of == revision)
            .map(|(_, v)| v.clone())
    }

    /// What prints the rest after something went wrong, from the line that comes next.
    ///
    /// # Errors
    /// Not found where none was begun; why there is no such file.
    pub(crate) fn rest_of_rehearsal(&self) -> Result<Vec<u8>, ApiError> {
        let stage = lock(&self.rehearsing.stage);
        let stage = stage.as_ref().ok_or(ApiError::NotFound("rehearsal"))?;
        let is_dead = *stage.rehearsal.status() == Status::Dead;
        let line = stage.rehearsal.line() as usize;
        let rest = rest_of(&stage.text, line, stage.rehearsal.printer(), is_dead)?;
        Ok(rest.into_bytes())
    }

    fn with_stage(&self, act: impl FnOnce(&mut Stage)) -> Result<RehearsalView, ApiError> {
        let mut stage = lock(&self.rehearsing.stage);
        let stage = stage.as_mut().ok_or_else(|| {
            ApiError::from(
                Problem::new(
                    "rehearsal-unknown",
                    "Nothing is being rehearsed",
                    "",
                    "Begin a rehearsal on Handover.",
                )
                .of(varichrom_core::ProblemSort::Outdated),
            )
        })?;
        act(stage);
        let view = stage.view(self.revision());
        if view.status == Status::Done && !stage.is_troubled && stage.file.is_none() {
            *lock(&self.rehearsing.verdict) = Some((stage.revision, view.verdict.clone()));
        }
        Ok(view)
    }
}

impl Stage {
    /// As far as time has passed.
    fn go_on(&mut self) {
        let began = Instant::now();
        let passed = began.duration_since(self.looked).as_secs_f64();
        self.looked = began;
        let from = self.rehearsal.file_s();
        let until = self
            .speed
            .map_or(f64::INFINITY, |speed| from + passed * speed);
        // In bits, so that a look never takes long.
        const BIT_S: f64 = 60.0;
        let mut to = from;
        while to < until && began.elapsed() < LONGEST_LOOK {
            to = (to + BIT_S).min(until);
            self.rehearsal.run_to(to);
            let is_over = *self.rehearsal.status() != Status::Running;
            if is_over && !self.goes_on_by_itself() {
                return;
            }
        }
        if self.speed.is_some() {
            self.rehearsal.pass(to);
        }
    }

    /// As fast as it goes, questions that the file asks are answered as it asks.
    fn goes_on_by_itself(&mut self) -> bool {
        match self.rehearsal.status() {
            Status::Waits(stands) if stands.is_planned && self.speed.is_none() => {
                self.rehearsal.answer(Answer::GoOn);
                true
            }
            _ => false,
        }
    }

    fn view(&mut self, revision: u32) -> RehearsalView {
        let verdict = self.rehearsal.verdict();
        let rehearsal = &self.rehearsal;
        let (nozzle, delta_e) = rehearsal.in_nozzle();
        let left = rehearsal.left_g();
        let slots = self.slots.iter().map(|s| RehearsedSlot {
            slot: s.slot,
            name: s.name.clone(),
            colour: s.colour,
            left_g: left.get(usize::from(s.slot) - 1).copied().flatten(),
        });
        RehearsalView {
            file: self.file,
            revision: self.revision,
            is_outdated: self.revision != revision,
            status: rehearsal.status().clone(),
            speed: self.speed,
            file_s: rehearsal.file_s(),
            passed_s: rehearsal.passed_s(),
            whole_s: rehearsal.whole_s(),
            layer: rehearsal.layer(),
            slot: rehearsal.slot(),
            nozzle,
            delta_e,
            slots: slots.collect(),
            happenings: rehearsal
                .happenings()
                .iter()
                .rev()
                .take(MOST_SHOWN)
                .cloned()
                .collect(),
            verdict,
        }
    }
}
