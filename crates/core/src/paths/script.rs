//! From beads and plan to steps: what a machine of a kind is told, file by file.

use super::bead::{Bead, BeadKind, way};
use super::layer::skirt;
use super::nozzle::{CLEAR_MM, Nozzle};
use super::route::{Seams, in_order, islands_in_order};
use super::stack::LayerBeads;
use super::steps::Step;
use super::tower::TowerLine;
use crate::machine::Printer;
use crate::plan::{Plan, Swap, Task};
use crate::shapes::Area;
use std::collections::VecDeque;

/// What of a slot stands in a file.
#[derive(Debug, Clone, PartialEq)]
pub struct SlotWords {
    /// What a person calls what is in it.
    pub name: String,
    /// Temperature that it is printed at, °C.
    pub nozzle_c: f64,
    /// Share of each feed, on a nozzle that mixes.
    pub shares: Vec<f64>,
}

/// One file for a machine.
#[derive(Debug, Clone, PartialEq)]
pub struct PrintScript {
    /// The slot that it prints, where each has a file of its own.
    pub slot: Option<u8>,
    /// What is done.
    pub steps: Vec<Step>,
}

/// What is asked for.
pub struct Asked<'a> {
    /// What was planned.
    pub task: &'a Task,
    /// The plan.
    pub plan: &'a Plan,
    /// Beads of one piece.
    pub layers: &'a [LayerBeads],
    /// By slot, from slot 1 on.
    pub slots: &'a [SlotWords],
}

impl Asked<'_> {
    fn printer(&self) -> &Printer {
        &self.task.printer
    }

    /// From the print's frame to the bed's, with the models around the middle of it.
    pub fn shift(&self) -> [f64; 2] {
        let bounds = self.task.footprint;
        if bounds.min[0] > bounds.max[0] {
            return [0.0; 2];
        }
        let middle = bounds.centre();
        [0, 1].map(|i| 0.5 * self.printer().bed_mm[i] - middle[i])
    }

    /// Where the pieces stand, from the first.
    fn pieces(&self) -> Vec<[f64; 2]> {
        self.task.pieces.shifts(self.task.footprint.size())
    }

    /// The box of the bed into which plastic is pressed, where the plan has a bin: the back right corner.
    pub fn bin(&self) -> [f64; 4] {
        let bed = self.printer().bed_mm;
        [bed[0] - 12.0, bed[1] - 12.0, bed[0] - 2.0, bed[1] - 2.0]
    }

    /// What a machine is told. One file, or one for each slot in passes.
    pub fn scripts(&self) -> Vec<PrintScript> {
        match self.plan.is_by_passes {
            false => vec![self.one_script()],
            true => self.passes(),
        }
    }

    fn one_script(&self) -> PrintScript {
        let mut writer = Writer::new(self);
        let first = self.plan.layers.iter().find_map(|l| l.order.first());
        let Some(first) = first.copied() else {
            return PrintScript {
                slot: None,
                steps: Vec::new(),
            };
        };
        writer.start(first, true);
        let mut loaded = first;
        let mut swaps = self.plan.swaps.iter().peekable();
        for (index, layer) in self.plan.layers.iter().enumerate() {
            writer.layer(index);
            let here: Vec<&Swap> =
                std::iter::from_fn(|| swaps.next_if(|s| s.layer == index)).collect();
            let mut tower = writer.tower_line(index, &here);
            if layer.tower_mm3 > 0.0
                && let Some(line) = &mut tower
                && let Some(bead) = line.take(layer.tower_mm3)
            {
                writer.nozzle.lay(&bead, None);
            }
            let mut pool = writer.pool(index, &here);
            let mut here = here.into_iter();
            for slot in &layer.order {
                if *slot != loaded
                    && let Some(swap) = here.next()
                {
                    writer.change(swap, &mut tower);
                    let purged = pool.purged.pop_front().unwrap_or_default();
                    writer.lay_all(purged, index);
                    loaded = *slot;
                }
                writer.slot(index, *slot, &mut pool);
            }
        }
        writer.end(true);
        PrintScript {
            slot: None,
            steps: writer.nozzle.steps,
        }
    }

    /// One file for each slot, in the order of the plan: each goes above what stands wherever it travels.
    fn passes(&self) -> Vec<PrintScript> {
        let mut order: Vec<u8> = Vec::new();
        let first = self.plan.swaps.first().map(|s| s.from);
        order.extend(first.or_else(|| {
            self.plan
                .layers
                .iter()
                .find_map(|l| l.order.first().copied())
        }));
        order.extend(self.plan.swaps.iter().map(|s| s.to));
        let mut scripts = Vec::new();
        let mut standing: f64 = 0.0;
        for (number, slot) in order.iter().enumerate() {
            let mut writer = Writer::new(self);
            writer.standing = standing;
            writer.start(*slot, number == 0);
            for (index, layer) in self.plan.layers.iter().enumerate() {
                if !layer.order.contains(slot) {
                    continue;
                }
                writer.layer(index);
                let mut pool = writer.pool(index, &[]);
                writer.slot(index, *slot, &mut pool);
                standing = standing.max(layer.z1_mm);
            }
            writer.standing = standing;
            writer.end(number + 1 == order.len());
            scripts.push(PrintScript {
                slot: Some(*slot),
                steps: writer.nozzle.steps,
            });
        }
        scripts
    }
}

/// Sparse beads of a layer: those that purge is laid as, change by change, and the rest by slot.
#[derive(Default)]
struct Pool {
    purged: VecDeque<Vec<Bead>>,
    own: Vec<(u8, Vec<Bead>)>,
}

struct Writer<'a> {
    asked: &'a Asked<'a>,
    nozzle: Nozzle<'a>,
    pieces: Vec<[f64; 2]>,
    /// How high what earlier files laid stands, mm.
    standing: f64,
}

impl<'a> Writer<'a> {
    fn new(asked: &'a Asked<'a>) -> Writer<'a> {
        Writer {
            asked,
            nozzle: Nozzle::new(asked.printer(), asked.shift()),
            pieces: asked.pieces(),
            standing: 0.0,
        }
    }

    fn words(&self, slot: u8) -> &'a SlotWords {
        &self.asked.slots[slot as usize - 1]
    }

    /// What is done before the first layer.
    fn start(&mut self, slot: u8, is_first: bool) {
        let printer = self.asked.printer();
        let (profile, printing) = (printer.profile(), &printer.printing);
        let c = self.words(slot).nozzle_c;
        let bed = |waits| Step::Bed {
            c: printing.bed_c,
            waits,
        };
        self.nozzle.say(bed(false));
        self.nozzle.say(Step::Home {
            with_height: is_first,
        });
        if !is_first {
            // The height is still known: up at once.
            self.nozzle.z = -1.0;
            self.nozzle.go_up_to(self.standing + CLEAR_MM);
        }
        let has_tools = !profile.rinses;
        let by_tool = has_tools || profile.mixes.is_some() || self.has_feeder();
        if profile.mixes.is_some() {
            for slot in self.asked.plan.needs.iter().filter(|n| n.model_g > 0.0) {
                let shares = self.words(slot.slot).shares.clone();
                self.nozzle.say(Step::Mix {
                    tool: slot.slot - 1,
                    shares,
                });
            }
        }
        if by_tool {
            self.nozzle.say(Step::Select { tool: slot - 1 });
        }
        let tool = has_tools.then_some(slot - 1);
        self.nozzle.say(Step::Heat {
            tool,
            c,
            waits: true,
        });
        self.nozzle.say(bed(true));
        self.nozzle.say(Step::Slot { slot });
        self.nozzle.say(Step::Fan { share: 0.0 });
    }

    /// Whether a word of the file has another filament put in.
    fn has_feeder(&self) -> bool {
        let profile = self.asked.printer().profile();
        !profile.is_by_hand && !profile.splices && profile.rinses && profile.mixes.is_none()
    }

    fn end(&mut self, is_last: bool) {
        self.nozzle.pull();
        let top = self.nozzle.z.max(self.standing);
        let most = self.asked.printer().bed_mm[2];
        self.nozzle
            .go_up_to((top + 5.0 * CLEAR_MM).min(most.max(top)));
        if is_last {
            self.nozzle.say(Step::Heat {
                tool: None,
                c: 0.0,
                waits: false,
            });
            self.nozzle.say(Step::Bed {
                c: 0.0,
                waits: false,
            });
            self.nozzle.say(Step::Fan { share: 0.0 });
            self.nozzle.say(Step::Rest);
        }
    }

    /// Begins a layer; before the first, what goes around it.
    fn layer(&mut self, index: usize) {
        let layer = &self.asked.layers[index];
        let is_first = self.nozzle.layer.0[1] == 0.0;
        self.nozzle.layer = (layer.span_mm, index == 0);
        self.nozzle.say(Step::Layer {
            index,
            span_mm: layer.span_mm,
        });
        let printing = &self.asked.printer().printing;
        if index == 1 {
            self.nozzle.say(Step::Fan {
                share: printing.fan,
            });
        }
        self.slow_down(index);
        if is_first && self.standing == 0.0 {
            self.prime();
        }
        if index == 0 && self.standing == 0.0 {
            let mut at = self.here();
            let seams = self.seams(index);
            for beads in [self.skirt(&layer.ground), self.moved(&layer.brim)] {
                for bead in in_order(beads, seams, &mut at) {
                    self.nozzle.lay(&bead, None);
                }
            }
        }
    }

    fn seams(&self, layer: usize) -> Seams {
        Seams {
            how: self.asked.printer().printing.seam,
            layer,
        }
    }

    /// Where the nozzle is, in the print's frame.
    fn here(&self) -> [f64; 2] {
        let at = self.nozzle.at.unwrap_or([0.0; 2]);
        [0, 1].map(|i| at[i] - self.nozzle.shift[i])
    }

    /// Around all pieces and the tower, if the bed has room for it.
    fn skirt(&self, ground: &Area) -> Vec<Bead> {
        let pieces: Vec<Area> = self.pieces.iter().map(|by| ground.moved(*by)).collect();
        let mut all = Area::union(&pieces);
        if let Some(tower) = self.asked.plan.tower
            && let Some(at) = tower.at
        {
            let half = 0.5 * tower.side_mm;
            let square = Area::rectangle(at.map(|c| c - half), at.map(|c| c + half));
            all = all.or(&square);
        }
        let printer = self.asked.printer();
        let beads = skirt(&all, printer);
        let is_on_bed = |p: [f64; 2]| {
            let p = self.nozzle.on_bed(p);
            (0..2).all(|i| p[i] >= 1.0 && p[i] <= printer.bed_mm[i] - 1.0)
        };
        match beads.iter().flat_map(|b| &b.line).all(|j| is_on_bed(j.at)) {
            true => beads,
            false => Vec::new(),
        }
    }

    /// A line along the front of the bed, if there is room.
    fn prime(&mut self) {
        let printer = self.asked.printer();
        let long = printer.printing.prime_line_mm.min(printer.bed_mm[0] - 10.0);
        if long <= 0.0 {
            return;
        }
        const FRONT_MM: f64 = 3.0;
        let shift = self.nozzle.shift;
        let ends = [5.0, 5.0 + long].map(|x| [x - shift[0], FRONT_MM - shift[1]]);
        let bead = Bead::even(BeadKind::Prime, &ends, printer.line_width_mm, false);
        self.nozzle.lay(&bead, None);
    }

    /// Slows a layer down that would be done too soon for what is below to set.
    fn slow_down(&mut self, index: usize) {
        let layer = &self.asked.layers[index];
        let height = layer.span_mm[1] - layer.span_mm[0];
        self.nozzle.slowed = 1.0;
        let beads = layer.slots.iter().flat_map(|s| {
            let islands = s.islands.iter().flatten();
            islands.chain(&s.sparse)
        });
        let seconds: f64 = beads
            .map(|b| {
                let width = b.line.first().map_or(0.4, |j| j.width);
                b.length_mm() / self.nozzle.speed(b.kind, width * height)
            })
            .sum();
        let swaps = self.asked.plan.swaps.iter().filter(|s| s.layer == index);
        let seconds = seconds * self.pieces.len() as f64 + swaps.map(|s| s.seconds).sum::<f64>();
        let least = self.asked.printer().printing.least_layer_s;
        if seconds > 0.0 {
            self.nozzle.slowed = (seconds / least).clamp(0.1, 1.0);
        }
    }

    /// Beads of one piece, at the place of every piece.
    fn moved(&self, beads: &[Bead]) -> Vec<Bead> {
        let at = |bead: &Bead, by: [f64; 2]| {
            let mut bead = bead.clone();
            for joint in &mut bead.line {
                joint.at = [0, 1].map(|i| joint.at[i] + by[i]);
            }
            bead
        };
        let pieces = self.pieces.iter();
        pieces
            .flat_map(|by| beads.iter().map(move |b| at(b, *by)))
            .collect()
    }

    /// Shares out the sparse beads of a layer: purge of each change takes what the plan gives it, in order.
    fn pool(&self, index: usize, swaps: &[&Swap]) -> Pool {
        let layer = &self.asked.layers[index];
        let height = layer.span_mm[1] - layer.span_mm[0];
        let mut own: Vec<(u8, Vec<Bead>)> = layer
            .slots
            .iter()
            .map(|s| (s.slot, self.moved(&s.sparse)))
            .collect();
        let mut purged = VecDeque::new();
        for swap in swaps {
            let mut due = swap.split.infill_mm3;
            let mut taken = Vec::new();
            // Its own first: that needs no travel.
            let mut turn: Vec<usize> = (0..own.len()).collect();
            turn.sort_by_key(|i| own[*i].0 != swap.to);
            for i in turn {
                while due > 1e-6
                    && let Some(bead) = own[i].1.pop()
                {
                    let mm3 = bead.ground_mm2() * height;
                    if mm3 <= due {
                        due -= mm3;
                        taken.push(bead);
                    } else {
                        let (first, rest) = cut(bead, due / height);
                        due = 0.0;
                        taken.push(first);
                        own[i].1.push(rest);
                    }
                }
            }
            purged.push_back(taken);
        }
        Pool { purged, own }
    }

    /// Lays beads in a good order, above what stands if earlier files have laid anything.
    fn lay_all(&mut self, beads: Vec<Bead>, index: usize) {
        let mut at = self.here();
        let seams = self.seams(index);
        for bead in in_order(beads, seams, &mut at) {
            self.lay(&bead);
        }
    }

    fn lay(&mut self, bead: &Bead) {
        let ceiling = (self.standing > 0.0).then(|| {
            let top = self.nozzle.layer.0[1];
            self.standing.max(top) + CLEAR_MM
        });
        // Next to where it is there is nothing to cross.
        let start = bead.line.first().map(|j| self.nozzle.on_bed(j.at));
        let near = start
            .zip(self.nozzle.at)
            .is_some_and(|(a, b)| way(a, b) < 1.05 * self.asked.printer().line_width_mm);
        self.nozzle.lay(bead, ceiling.filter(|_| !near));
    }

    /// Lays what a slot has in a layer.
    fn slot(&mut self, index: usize, slot: u8, pool: &mut Pool) {
        let layer = &self.asked.layers[index];
        let Some(own) = layer.slots.iter().find(|s| s.slot == slot) else {
            return;
        };
        let mut islands = Vec::new();
        for by in &self.pieces {
            for island in &own.islands {
                let mut island = island.clone();
                for joint in island.iter_mut().flat_map(|b| &mut b.line) {
                    joint.at = [0, 1].map(|i| joint.at[i] + by[i]);
                }
                islands.push(island);
            }
        }
        let mut at = self.here();
        let seams = self.seams(index);
        for bead in islands_in_order(islands, seams, &mut at) {
            self.lay(&bead);
        }
        let sparse = pool.own.iter_mut().find(|(s, _)| *s == slot);
        let sparse = sparse.map(|(_, beads)| std::mem::take(beads));
        self.lay_all(sparse.unwrap_or_default(), index);
    }

    /// The tower's line on a layer, for all that goes into it there.
    fn tower_line(&self, index: usize, swaps: &[&Swap]) -> Option<TowerLine> {
        let tower = self.asked.plan.tower?;
        let layer = &self.asked.plan.layers[index];
        let purge: f64 = swaps.iter().map(|s| s.split.tower_mm3).sum();
        let mm3 = layer.tower_mm3 + purge;
        let height = layer.z1_mm - layer.z0_mm;
        let line_mm = self.asked.printer().line_width_mm;
        (mm3 > 0.0).then(|| {
            TowerLine::of(
                (tower.at.unwrap_or_default(), tower.side_mm),
                index,
                height,
                mm3,
                line_mm,
            )
        })
    }

    /// Changes the filament, and presses out what the plan says where it says.
    fn change(&mut self, swap: &Swap, tower: &mut Option<TowerLine>) {
        let printer = self.asked.printer();
        let profile = printer.profile();
        let bead = tower.as_mut().and_then(|t| t.take(swap.split.tower_mm3));
        let top = self.nozzle.layer.0[1];
        // To where the purge begins, or straight up.
        let place = bead
            .as_ref()
            .and_then(|b| b.line.first())
            .map(|j| self.nozzle.on_bed(j.at));
        let place = place.or(self.nozzle.at).unwrap_or([0.0; 2]);
        let words = self.words(swap.to);
        if profile.splices {
            self.nozzle.say(Step::Slot { slot: swap.to });
        } else if profile.is_by_hand {
            self.nozzle.pull();
            self.nozzle.go_above(park(printer), top + 5.0 * CLEAR_MM);
            let hand = swap.split.hand_mm3 / crate::rinse::FILAMENT_MM2;
            let press = match hand > 0.5 {
                true => format!(", press out {hand:.0} mm"),
                false => String::new(),
            };
            self.nozzle.say(Step::Prompt {
                words: format!("Load {}{press}, brush the nozzle, go on", words.name),
            });
            self.heat(swap, None);
            self.nozzle.say(Step::Slot { slot: swap.to });
        } else {
            self.nozzle.go_above(place, top + CLEAR_MM);
            let has_tools = !profile.rinses;
            // While it is still hot.
            self.nozzle.push();
            if has_tools {
                let old = self.words(swap.from).nozzle_c;
                self.nozzle.say(Step::Heat {
                    tool: Some(swap.from - 1),
                    c: old - printer.printing.standby_c,
                    waits: false,
                });
            }
            self.nozzle.say(Step::Select { tool: swap.to - 1 });
            match has_tools {
                true => self.nozzle.say(Step::Heat {
                    tool: Some(swap.to - 1),
                    c: words.nozzle_c,
                    waits: true,
                }),
                false => self.heat(swap, None),
            }
            self.nozzle.say(Step::Slot { slot: swap.to });
        }
        if swap.split.bin_mm3 > 0.0 {
            let [x0, y0, x1, y1] = self.asked.bin();
            let above = top + CLEAR_MM;
            self.nozzle
                .go_above([0.5 * (x0 + x1), 0.5 * (y0 + y1)], above);
            self.nozzle.push();
            self.nozzle.say(Step::Press {
                mm3: swap.split.bin_mm3,
                flow: printer.purge_mm3_s,
            });
        }
        if let Some(bead) = bead {
            self.nozzle.lay(&bead, None);
        }
    }

    /// Another temperature, where the new filament needs one.
    fn heat(&mut self, swap: &Swap, tool: Option<u8>) {
        let (old, new) = (self.words(swap.from).nozzle_c, self.words(swap.to).nozzle_c);
        if (old - new).abs() > 0.5 {
            self.nozzle.say(Step::Heat {
                tool,
                c: new,
                waits: true,
            });
        }
    }
}

/// Where a person can reach the nozzle: in the middle of the front.
fn park(printer: &Printer) -> [f64; 2] {
    [0.5 * printer.bed_mm[0], 5.0]
}

/// An open bead in two, the first of which takes so much ground, mm².
fn cut(bead: Bead, mm2: f64) -> (Bead, Bead) {
    let mut first = bead.clone();
    let mut rest = bead.clone();
    let (mut sum, mut at) = (0.0, 0);
    for (a, b, width) in bead.stretches() {
        let here = way(a, b) * width;
        if sum + here >= mm2 {
            let t = ((mm2 - sum) / here.max(1e-12)).clamp(0.0, 1.0);
            let mut joint = bead.line[at];
            joint.at = [0, 1].map(|i| a[i] + t * (b[i] - a[i]));
            first.line.truncate(at + 1);
            first.line.push(joint);
            rest.line = std::iter::once(joint)
                .chain(bead.line[at + 1..].iter().copied())
                .collect();
            if bead.is_closed {
                rest.line.extend(bead.line.first().copied());
            }
            first.is_closed = false;
            rest.is_closed = false;
            return (first, rest);
        }
        sum += here;
        at += 1;
    }
    rest.line.clear();
    (first, rest)
}
