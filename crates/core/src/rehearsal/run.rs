//! The machine itself: step by step through the file.

use super::ground::Ground;
use super::melt::Melt;
use super::setup::{Setup, Trouble, TroubleKind};
use super::verdict::{Stain, Verdict};
use crate::Problem;
use crate::colour::{Colour, Pigment, difference};
use crate::gcode::{Sliced, Standing, sliced};
use crate::paths::{Step, pace};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// How far lost steps bring the nozzle aside, mm.
const ASIDE_MM: f64 = 2.0;

/// A nozzle this cold melts nothing, °C (common practice, no source).
const MELTS_C: f64 = 150.0;

/// Filament that a machine feeds before it sees that nothing comes out, mm (common practice, no source).
const SEEN_MM: f64 = 20.0;

/// How a machine is at the moment.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(tag = "is", rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Status {
    /// It goes on.
    Running,
    /// It stands until it is told to go on.
    Waits(Standstill),
    /// All is done.
    Done,
    /// It was told to stop.
    Stopped,
    /// The power is gone; what lies there lies there.
    Dead,
}

/// Why a machine stands.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Standstill {
    /// What a person should do.
    pub words: String,
    /// Slot that it is about, from 1.
    pub slot: Option<u8>,
    /// Whether the file asks for it; else something went wrong.
    pub is_planned: bool,
}

/// What a person does where a machine stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Answer {
    /// What was asked for, and on.
    GoOn,
    /// The spool of another slot instead, and on.
    Use {
        /// From 1.
        slot: u8,
    },
    /// No further.
    Stop,
}

/// How a happening is to be taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum HowItWent {
    /// As it should.
    Fine,
    /// Worth a look.
    Look,
    /// Wrong.
    Wrong,
}

/// Something that happened.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Happening {
    /// When, s from the start.
    pub s: f64,
    /// In which layer, from 0.
    pub layer: usize,
    /// Line of the file, from 1.
    pub line: u32,
    /// How it is to be taken.
    pub how: HowItWent,
    /// What, in words.
    pub words: String,
}

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
    /// Which of them is in each slot.
    held: Vec<usize>,
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
    stains: HashMap<(usize, [i32; 2]), Stain>,
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
        let mixes = setup.printer.profile().mixes.is_some();
        let melted = if mixes { &setup.feeds } else { &setup.slots };
        let sources: Vec<Pigment> = melted.iter().map(|h| h.pigment).collect();
        let has_tools = !setup.printer.profile().rinses;
        let count = if has_tools {
            setup.slots.len().max(1)
        } else {
            1
        };
        let first = setup
            .strand
            .first()
            .map(|s| s.0)
            .or(setup.places.first().copied())
            .unwrap_or(1);
        let full_of = |tool: usize| {
            let source = if has_tools {
                tool
            } else {
                usize::from(first) - 1
            };
            let source = source.min(sources.len().saturating_sub(1));
            Melt::full_of(setup.printer.melt, source, sources.len().max(1))
        };
        let strand = (0, setup.strand.first().map_or(f64::INFINITY, |s| s.1));
        Ok(Rehearsal {
            melts: (0..count).map(full_of).collect(),
            held: (0..setup.slots.len()).collect(),
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
            stains: HashMap::new(),
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

    /// How it is.
    pub fn status(&self) -> &Status {
        &self.status
    }

    /// Time of the file that has passed, s: where the drawing of its moves stands.
    pub fn file_s(&self) -> f64 {
        self.file_s
    }

    /// All time that has passed, s.
    pub fn passed_s(&self) -> f64 {
        self.file_s + self.extra_s
    }

    /// Time that the whole file takes, s.
    pub fn whole_s(&self) -> f64 {
        self.whole_s
    }

    /// Layer at hand, from 0.
    pub fn layer(&self) -> usize {
        self.layer
    }

    /// Line of the file that comes next, from 1.
    pub fn line(&self) -> u32 {
        let lines = &self.file.lines;
        let line = lines.get(self.next).or(lines.last());
        line.copied().unwrap_or(1)
    }

    /// Where the nozzle is, mm.
    pub fn at(&self) -> [f64; 3] {
        self.at
    }

    /// Slot that prints, from 1.
    pub fn slot(&self) -> u8 {
        self.slot
    }

    /// What happened so far.
    pub fn happenings(&self) -> &[Happening] {
        &self.happenings
    }

    /// What each slot has left, g; none where nobody knows.
    pub fn left_g(&self) -> Vec<Option<f64>> {
        let held = self.left_mm3.iter().zip(&self.setup.slots);
        held.map(|(left, h)| left.map(|mm3| mm3 * h.g_per_mm3))
            .collect()
    }

    /// Colours in the nozzle from where filament comes in to where it leaves, and how far the last is from what it should be.
    pub fn in_nozzle(&self) -> (Vec<Colour>, f64) {
        let melt = &self.melts[self.melt()];
        let colours = melt
            .colours(&self.sources)
            .into_iter()
            .map(Colour::from_linear);
        (colours.collect(), self.off())
    }

    fn melt(&self) -> usize {
        self.tool.min(self.melts.len() - 1)
    }

    /// What should come out: linear light.
    fn due_colour(&self) -> [f64; 3] {
        let shares = self.setup.shares.get(usize::from(self.due) - 1);
        match shares.filter(|_| self.setup.printer.profile().mixes.is_some()) {
            Some(shares) => {
                let parts: Vec<(Pigment, f64)> = self
                    .sources
                    .iter()
                    .copied()
                    .zip(shares.iter().copied())
                    .collect();
                crate::colour::blend(&parts)
            }
            None => match self.setup.slots.get(usize::from(self.due) - 1) {
                Some(held) => held.pigment.colour.linear(),
                None => [0.0; 3],
            },
        }
    }

    /// Difference of what leaves the nozzle to what should.
    fn off(&self) -> f64 {
        let melt = &self.melts[self.melt()];
        let is_right = melt.pure().is_some_and(|source| {
            self.setup.shares.is_empty()
                && source == usize::from(self.due) - 1
                && self.held.get(source) == Some(&source)
        });
        match is_right {
            true => 0.0,
            false => difference(melt.colour(&self.sources), self.due_colour()),
        }
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

    /// Something goes wrong now, with the slot that prints.
    pub fn go_wrong(&mut self, kind: TroubleKind) {
        let trouble = Trouble {
            kind,
            layer: 0,
            slot: None,
        };
        self.troubles.push(trouble);
        if self.status == Status::Running {
            self.meet_troubles();
        }
    }

    /// A person has done something.
    pub fn answer(&mut self, answer: Answer) {
        let Status::Waits(stands) = self.status.clone() else {
            return;
        };
        if answer == Answer::Stop {
            self.status = Status::Stopped;
            self.say(HowItWent::Look, "Stopped by hand".into());
            return;
        }
        self.status = Status::Running;
        if !stands.is_planned {
            self.extra_s += self.setup.printer.reload_s;
        }
        self.jammed_mm3 = None;
        let Some(slot) = stands.slot else {
            return;
        };
        let used = match answer {
            Answer::Use { slot } => slot.clamp(1, self.setup.slots.len() as u8),
            Answer::GoOn | Answer::Stop => slot,
        };
        let index = usize::from(slot) - 1;
        match stands.is_planned {
            true => self.put_in(used),
            false => {
                // A new spool; the wrong one if somebody says so.
                self.held[index] = usize::from(used) - 1;
                self.left_mm3[index] = None;
            }
        }
    }

    /// The spool of a slot goes in at a pause.
    fn put_in(&mut self, slot: u8) {
        let turn = self.setup.turns.get(self.turn.saturating_sub(1)).copied();
        let place = turn.map_or(0, |t| t.place);
        if self.setup.places.len() <= place {
            self.setup.places.resize(place + 1, 1);
        }
        self.setup.places[place] = slot;
        if self.setup.printer.profile().is_by_hand {
            self.change_to(slot);
            let source = self.held.get(usize::from(slot) - 1).copied().unwrap_or(0);
            let melt = self.melt();
            // Whoever loads by hand pushes until it flows, and as much as the prompt says.
            self.melts[melt].primed();
            if let Some(press) = turn.map(|t| t.press_mm3).filter(|mm3| *mm3 > 0.0) {
                self.melts[melt].feed(press, &[(source, 1.0)]);
            }
        }
    }

    fn change_to(&mut self, slot: u8) {
        if slot == self.slot {
            return;
        }
        let from = std::mem::replace(&mut self.slot, slot);
        if !self.has_laid {
            self.due = slot;
            return;
        }
        let planned = self.setup.swaps.get(self.swaps).copied();
        self.swaps += 1;
        let name = |slot: u8| match self.setup.slots.get(usize::from(slot) - 1) {
            Some(held) => held.name.clone(),
            None => format!("slot {slot}"),
        };
        let what = format!("Swap {}: {} → {}", self.swaps, name(from), name(slot));
        match planned {
            Some(to) if to == slot => {
                self.swaps_as_planned += 1;
                self.due = slot;
                self.say(HowItWent::Fine, what);
            }
            Some(to) => {
                self.due = to;
                let words = format!("{what}; planned is {}", name(to));
                self.say(HowItWent::Wrong, words);
            }
            None => {
                self.due = slot;
                let how = match self.setup.swaps.is_empty() {
                    true => HowItWent::Fine,
                    false => HowItWent::Wrong,
                };
                self.say(how, what);
            }
        }
    }

    fn step(&mut self, step: &Step) {
        match step {
            Step::Layer { index, .. } => {
                self.layer = *index;
                self.meet_troubles();
            }
            Step::Lay { to, mm3, width, .. } => self.lay(*to, *mm3, *width),
            Step::Travel { to, .. } => {
                self.meets(*to);
                (self.at[0], self.at[1]) = (to[0], to[1]);
            }
            Step::Height { to, .. } => self.at[2] = *to,
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

    fn section_mm2(&self) -> f64 {
        let held = self.setup.slots.get(usize::from(self.slot) - 1);
        held.map_or(crate::rinse::FILAMENT_MM2, |h| h.section_mm2)
    }

    /// Takes filament off the spool at hand; less than nothing gives it back.
    fn draw(&mut self, mm3: f64) {
        let index = usize::from(self.slot) - 1;
        if let Some(used) = self.used_mm3.get_mut(index) {
            *used += mm3;
        }
        let Some(Some(left)) = self.left_mm3.get_mut(index) else {
            return;
        };
        *left -= mm3;
        if *left <= 0.0 && mm3 > 0.0 {
            *left = 0.0;
            self.ran_out.push(self.slot);
            let name = self.setup.slots[index].name.clone();
            let length = self.setup.printer.melt.volume_mm3 / self.section_mm2();
            let words = format!(
                "Slot {} is empty. Put in {name}, press out {length:.0} mm, then go on",
                self.slot
            );
            self.wait(HowItWent::Wrong, words, Some(self.slot));
        }
    }

    /// Feeds filament; what comes out, mm³.
    fn feed(&mut self, mm3: f64) -> f64 {
        if let Some(fed) = &mut self.jammed_mm3 {
            *fed += mm3;
            if *fed > SEEN_MM * self.section_mm2() {
                self.wait(
                    HowItWent::Wrong,
                    "Nothing comes out of the nozzle. Clear it, then go on".into(),
                    None,
                );
            }
            return 0.0;
        }
        let warm = self
            .warm
            .get(&if self.melts.len() > 1 { self.tool } else { 0 });
        if warm.is_some_and(|c| *c < MELTS_C) {
            self.cold_mm3 += mm3;
        }
        self.strand_on(mm3);
        self.draw(mm3);
        let index = usize::from(self.slot) - 1;
        let mixed = self.setup.shares.get(index);
        let shares: Vec<(usize, f64)> = match mixed {
            Some(shares) => shares
                .iter()
                .copied()
                .enumerate()
                .filter(|s| s.1 > 0.0)
                .collect(),
            None => vec![(self.held.get(index).copied().unwrap_or(0), 1.0)],
        };
        let melt = self.melt();
        self.melts[melt].feed(mm3, &shares)
    }

    /// A strand is used up length by length.
    fn strand_on(&mut self, mm3: f64) {
        if self.setup.strand.is_empty() {
            return;
        }
        self.strand.1 -= mm3 / self.section_mm2();
        while self.strand.1 <= 1e-6 && self.strand.0 + 1 < self.setup.strand.len() {
            self.strand.0 += 1;
            let (slot, mm) = self.setup.strand[self.strand.0];
            self.strand.1 += mm;
            self.has_laid = true;
            self.change_to(slot);
        }
    }

    fn meet_troubles(&mut self) {
        let (layer, slot) = (self.layer, self.slot);
        let is_due = |t: &Trouble| t.layer <= layer;
        let due: Vec<Trouble> = self.troubles.iter().copied().filter(is_due).collect();
        self.troubles.retain(|t| !is_due(t));
        for trouble in due {
            let index = usize::from(trouble.slot.unwrap_or(slot)) - 1;
            match trouble.kind {
                TroubleKind::RunOut => {
                    if let Some(left) = self.left_mm3.get_mut(index) {
                        *left = Some(1.0);
                    }
                }
                TroubleKind::Jam => self.jammed_mm3 = Some(0.0),
                TroubleKind::WrongSpool => {
                    if let Some(held) = self.held.get_mut(index) {
                        *held = (*held + 1) % self.sources.len().max(1);
                    }
                }
                TroubleKind::LostSteps => self.aside = [ASIDE_MM, 0.0],
                TroubleKind::PowerCut => {
                    self.say(HowItWent::Wrong, "The power went".into());
                    self.status = Status::Dead;
                }
            }
        }
    }

    fn lay(&mut self, to: [f64; 2], mm3: f64, width: f64) {
        let from = [self.at[0], self.at[1]];
        self.meets(to);
        let off = self.off();
        let out = self.feed(mm3);
        (self.at[0], self.at[1]) = (to[0], to[1]);
        self.has_laid = true;
        let really = |p: [f64; 2]| [p[0] + self.aside[0], p[1] + self.aside[1]];
        let (from, to) = (really(from), really(to));
        let length = (to[0] - from[0]).hypot(to[1] - from[1]);
        if out <= 0.0 {
            self.missing_mm += length;
            return;
        }
        self.standing.lay(from, to, self.at[2]);
        let is_aside = |p: [f64; 2]| {
            let holds =
                |[low, high]: &[[f64; 2]; 2]| (0..2).all(|i| p[i] >= low[i] && p[i] <= high[i]);
            self.setup.aside.iter().any(holds)
        };
        if is_aside(from) && is_aside(to) {
            return;
        }
        self.ground.lay(self.layer, from, to, width);
        if off > 0.25 * self.setup.printer.tolerance {
            let middle = [0.5 * (from[0] + to[0]), 0.5 * (from[1] + to[1])];
            let key = (self.layer, middle.map(|c| c.floor() as i32));
            let stain = Stain {
                delta_e: off,
                layer: self.layer,
                slot: self.due,
                at: middle,
                line: self.line(),
            };
            let worst = self.stains.entry(key).or_insert_with(|| stain.clone());
            if off > worst.delta_e {
                *worst = stain;
            }
        }
    }

    /// Whether the nozzle meets what stands on its way.
    fn meets(&mut self, to: [f64; 2]) {
        let [x, y, z] = self.at;
        let really = |p: [f64; 2]| [p[0] + self.aside[0], p[1] + self.aside[1]];
        if self.standing.meets(really([x, y]), really(to), z).is_none() {
            return;
        }
        self.touched += 1;
        if self.touched_lines.len() < 5 {
            let line = self.line();
            self.touched_lines.push(line);
            self.say(HowItWent::Wrong, "The nozzle touched what stands".into());
        }
    }

    /// What it came to so far.
    pub fn verdict(&self) -> Verdict {
        let mut stains: Vec<&Stain> = self.stains.values().collect();
        stains.sort_by(|a, b| b.delta_e.total_cmp(&a.delta_e).then(a.line.cmp(&b.line)));
        let seen = self.ground.in_sight(stains.iter().map(|s| (s.layer, s.at)));
        let in_sight: Vec<&Stain> = stains
            .iter()
            .zip(seen)
            .filter(|(_, is)| *is)
            .map(|(s, _)| *s)
            .collect();
        let tolerance = self.setup.printer.tolerance;
        // What is counted as clean is known to about this.
        const HAIR: f64 = 0.05;
        let mut layers: Vec<usize> = in_sight
            .iter()
            .filter(|s| s.delta_e > tolerance + HAIR)
            .map(|s| s.layer)
            .collect();
        layers.sort_unstable();
        layers.dedup();
        let planned = self.setup.swaps.len();
        let is_good = self.status == Status::Done
            && layers.is_empty()
            && self.touched == 0
            && self.missing_mm == 0.0
            && self.aside == [0.0; 2]
            && self.cold_mm3 == 0.0
            && (planned == 0 || (self.swaps == planned && self.swaps_as_planned == planned));
        Verdict {
            worst: in_sight.first().map(|s| (*s).clone()),
            tolerance,
            stained_layers: layers.len(),
            touched: self.touched,
            touched_lines: self.touched_lines.clone(),
            ran_out: self.ran_out.clone(),
            swaps: self.swaps,
            swaps_as_planned: self.swaps_as_planned,
            swaps_planned: planned,
            missing_mm: self.missing_mm,
            aside_mm: self.aside[0].hypot(self.aside[1]),
            cold_mm3: self.cold_mm3,
            time_s: self.passed_s(),
            planned_s: self.setup.planned_s,
            used_g: self
                .used_mm3
                .iter()
                .zip(&self.setup.slots)
                .map(|(mm3, h)| mm3 * h.g_per_mm3)
                .collect(),
            is_good,
        }
    }
}
