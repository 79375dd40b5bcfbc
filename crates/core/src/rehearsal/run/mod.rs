//! The machine itself: step by step through the file.

mod feeding;
mod people;
mod seen;

use super::ground::Ground;
use super::melt::Melt;
use super::setup::{Setup, Trouble};
use super::stains::Stains;
use super::told::{Answer, Happening, HowItWent, Standstill, Status};
use crate::Problem;
use crate::colour::{Pigment, blend};
use crate::gcode::{Sliced, Standing, sliced};
use crate::paths::{Step, pace};
use std::collections::HashMap;

/// A machine with a file in it.
pub struct Rehearsal {
    setup: Setup,
    file: Sliced,
    seconds: Vec<f64>,
    whole_s: f64,
    /// The step that comes next.
    next: usize,
    /// Time of the file so far, and of what nobody planned, s.
    file_s: f64,
    extra_s: f64,
    at: [f64; 3],
    aside: [f64; 2],
    layer: usize,
    /// What is melted: the slots' spools, or the feeds of a nozzle that mixes.
    sources: Vec<Pigment>,
    /// What comes out of each slot: shares of them.
    made_of: Vec<Vec<(usize, f64)>>,
    /// What should come out of each slot, linear light.
    wanted: Vec<[f64; 3]>,
    left_mm3: Vec<Option<f64>>,
    used_mm3: Vec<f64>,
    melts: Vec<Melt>,
    tool: usize,
    /// Slot that is drawn from, and slot that should be, from 1.
    slot: u8,
    due: u8,
    has_laid: bool,
    swaps: usize,
    swaps_as_planned: usize,
    turn: usize,
    strand: (usize, f64),
    warm: HashMap<usize, f64>,
    status: Status,
    happenings: Vec<Happening>,
    troubles: Vec<Trouble>,
    /// Fed since nothing comes out, mm³.
    jammed_mm3: Option<f64>,
    ground: Ground,
    standing: Standing,
    stains: Stains,
    ran_out: Vec<u8>,
    touched: usize,
    touched_lines: Vec<u32>,
    missing_mm: f64,
    cold_mm3: f64,
}

impl Rehearsal {
    /// A machine that stands at the beginning of a file.
    ///
    /// # Errors
    /// Those of [`crate::gcode::read`].
    pub fn new(text: &str, setup: Setup) -> Result<Rehearsal, Problem> {
        let section_mm2 = setup
            .slots
            .first()
            .map_or(crate::rinse::FILAMENT_MM2, |s| s.section_mm2);
        let file = sliced(text, section_mm2, &setup.printer)?;
        let (seconds, _) = pace(&file.steps, &setup.printer);
        let profile = setup.printer.profile();
        let melted = match profile.mixes.is_some() {
            true => &setup.feeds,
            false => &setup.slots,
        };
        let sources: Vec<Pigment> = melted.iter().map(|h| h.pigment).collect();
        let made_of: Vec<Vec<(usize, f64)>> = match profile.mixes.is_some() {
            true => {
                let all = setup.shares.iter().map(|shares| {
                    let shares = shares.iter().copied().take(sources.len()).enumerate();
                    shares.filter(|s| s.1 > 0.0).collect()
                });
                all.collect()
            }
            false => (0..sources.len()).map(|slot| vec![(slot, 1.0)]).collect(),
        };
        let colour = |made: &Vec<(usize, f64)>| {
            let parts: Vec<(Pigment, f64)> = made.iter().map(|(i, s)| (sources[*i], *s)).collect();
            blend(&parts)
        };
        let wanted = made_of.iter().map(colour).collect();
        let first = setup.strand.first().map(|s| s.0);
        let first = first.or(setup.places.first().copied()).unwrap_or(1);
        // A nozzle for each filament, or one for all.
        let melts = match profile.rinses {
            true => 1,
            false => made_of.len().max(1),
        };
        let full_of = |tool: usize| {
            let slot = if melts > 1 {
                tool
            } else {
                usize::from(first) - 1
            };
            let made = made_of.get(slot).map_or(&[][..], Vec::as_slice);
            Melt::full_of(setup.printer.melt, made, sources.len())
        };
        let strand = (0, setup.strand.first().map_or(f64::INFINITY, |s| s.1));
        Ok(Rehearsal {
            melts: (0..melts).map(full_of).collect(),
            made_of,
            wanted,
            left_mm3: setup.slots.iter().map(|h| h.left_mm3).collect(),
            used_mm3: vec![0.0; setup.slots.len()],
            troubles: setup.troubles.clone(),
            whole_s: setup.printer.start_s + seconds.iter().sum::<f64>(),
            file_s: setup.printer.start_s,
            extra_s: 0.0,
            next: 0,
            at: [0.0; 3],
            aside: [0.0; 2],
            layer: 0,
            sources,
            tool: 0,
            slot: first,
            due: first,
            has_laid: false,
            swaps: 0,
            swaps_as_planned: 0,
            turn: 0,
            strand,
            warm: HashMap::new(),
            status: Status::Running,
            happenings: Vec::new(),
            jammed_mm3: None,
            ground: Ground::default(),
            standing: Standing::default(),
            stains: Stains::new(setup.printer.tolerance),
            ran_out: Vec::new(),
            touched: 0,
            touched_lines: Vec::new(),
            missing_mm: 0.0,
            cold_mm3: 0.0,
            file,
            seconds,
            setup,
        })
    }

    /// Line of the file that comes next, from 1.
    pub fn line(&self) -> u32 {
        let lines = &self.file.lines;
        let line = lines.get(self.next).or(lines.last());
        line.copied().unwrap_or(1)
    }

    fn say(&mut self, how: HowItWent, words: String) {
        self.happenings.push(Happening {
            s: self.passed_s(),
            layer: self.layer,
            line: self.line(),
            how,
            words,
        });
    }

    fn wait(&mut self, how: HowItWent, words: String, slot: Option<u8>) {
        self.say(how, words.clone());
        self.status = Status::Waits(Standstill {
            words,
            slot,
            is_planned: how == HowItWent::Fine,
        });
    }

    /// Goes on until so much of the file's time has passed, or the machine stands.
    ///
    /// # Cost
    /// Linear in the length of the moves.
    pub fn run_to(&mut self, file_s: f64) {
        while self.status == Status::Running {
            let Some(seconds) = self.seconds.get(self.next).copied() else {
                self.status = Status::Done;
                let words = format!("Done, {}", crate::counted(self.swaps, "swap"));
                self.say(HowItWent::Fine, words);
                return;
            };
            if self.file_s + seconds > file_s {
                return;
            }
            self.file_s += seconds;
            let step = self.file.steps[self.next].clone();
            self.step(&step);
            self.next += 1;
        }
    }

    /// All of it, every question answered as it asks.
    pub fn run_through(&mut self) {
        loop {
            self.run_to(f64::INFINITY);
            match self.status {
                Status::Waits(_) => self.answer(Answer::GoOn),
                Status::Running | Status::Done | Status::Stopped | Status::Dead => return,
            }
        }
    }

    /// Time goes by where no move ends: the file's clock stands at least here, short of the next move's end.
    pub fn pass(&mut self, file_s: f64) {
        let ends = self.seconds.get(self.next).map_or(0.0, |s| self.file_s + s);
        if self.status == Status::Running && file_s > self.file_s && file_s < ends {
            self.seconds[self.next] = ends - file_s;
            self.file_s = file_s;
        }
    }

    fn step(&mut self, step: &Step) {
        match step {
            Step::Layer { index, .. } => {
                self.layer = *index;
                self.stains.begin(self.layer, &mut self.ground);
                self.meet_troubles();
            }
            Step::Lay { to, mm3, width, .. } => self.lay(*to, *mm3, *width),
            Step::Travel { to, .. } => {
                self.meets([to[0], to[1], self.at[2]]);
                (self.at[0], self.at[1]) = (to[0], to[1]);
            }
            Step::Height { to, .. } => {
                if *to < self.at[2] {
                    self.meets([self.at[0], self.at[1], *to]);
                }
                self.at[2] = *to;
            }
            Step::Pull { mm, .. } => {
                let mm3 = mm * self.section_mm2();
                let melt = self.melt();
                self.melts[melt].pull(mm3);
                self.draw(-mm3);
                self.strand_on(-mm3);
            }
            Step::Push { mm, .. } => {
                self.feed(mm * self.section_mm2());
            }
            Step::Press { mm3, .. } => {
                self.feed(*mm3);
            }
            Step::Select { tool } => {
                self.tool = usize::from(*tool);
                let place = self.setup.places.get(self.tool).copied();
                self.change_to(place.unwrap_or(tool.saturating_add(1)));
            }
            Step::Prompt { words, .. } => {
                let turn = self.setup.turns.get(self.turn).copied();
                self.turn += 1;
                let words = match words.is_empty() {
                    true => "The file waits here".to_string(),
                    false => words.clone(),
                };
                self.wait(HowItWent::Fine, words, turn.map(|t| t.slot));
            }
            Step::Heat { tool, c, .. } => {
                let has_tools = self.melts.len() > 1;
                let at = tool.map_or(self.tool, usize::from);
                self.warm.insert(if has_tools { at } else { 0 }, *c);
            }
            Step::Home { .. } => self.aside = [0.0; 2],
            Step::Bed { .. }
            | Step::Fan { .. }
            | Step::Slot { .. }
            | Step::Mix { .. }
            | Step::Say { .. }
            | Step::Passage { .. }
            | Step::Rest => {}
        }
    }
}
