//! From beads and plan to steps: what a machine of a kind is told, file by file.

use super::pool::topped_up;
use super::stack::LayerBeads;
use super::steps::Step;
use super::writer::Writer;
use crate::machine::Printer;
use crate::plan::{Plan, Swap, Task};

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
    pub(super) fn printer(&self) -> &Printer {
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
    pub(super) fn pieces(&self) -> Vec<[f64; 2]> {
        self.task.pieces.shifts(self.task.footprint.size())
    }

    /// Low and high corner of the tower's footprint, where the layers have it.
    pub(super) fn tower_box(&self) -> Option<([f64; 2], [f64; 2])> {
        let tower = self.plan.tower?;
        let (at, half) = (tower.at?, 0.5 * tower.side_mm);
        Some((at.map(|c| c - half), at.map(|c| c + half)))
    }

    /// The slot that prints last.
    pub(super) fn last_slot(&self) -> Option<u8> {
        let layers = self.plan.layers.iter().rev();
        layers.flat_map(|l| l.order.last()).next().copied()
    }

    /// The first slot that anything is printed from.
    fn first(&self) -> Option<u8> {
        self.plan
            .layers
            .iter()
            .find_map(|l| l.order.first().copied())
    }

    /// The hottest that what is in a slot may be, °C.
    pub fn hottest_c(&self, slot: u8) -> f64 {
        let index = slot as usize - 1;
        self.task.filaments[index]
            .hottest_c()
            .max(self.slots[index].nozzle_c)
    }

    /// Temperature of the bed, °C: as it is set, or the highest that any plastic of the print needs.
    pub fn bed_c(&self) -> f64 {
        let used = self.plan.needs.iter().filter(|n| n.model_g > 0.0);
        let needed = used.map(|n| self.task.filaments[n.slot as usize - 1].bed_c());
        let set = self.printer().printing.bed_c;
        set.unwrap_or_else(|| needed.fold(0.0, f64::max))
    }

    /// What a machine is told. One file, or one for each slot in passes.
    pub fn scripts(&self) -> Vec<PrintScript> {
        match self.plan.is_by_passes {
            false => vec![self.one_script()],
            true => self.passes(),
        }
    }

    fn one_script(&self) -> PrintScript {
        let mut writer = Writer::new(self, 0.0);
        let Some(first) = self.first() else {
            return PrintScript {
                slot: None,
                steps: Vec::new(),
            };
        };
        writer.start(first, true);
        let mut loaded = first;
        let mut swaps = self.plan.swaps.iter().peekable();
        for (index, layer) in self.plan.layers.iter().enumerate() {
            writer.layer(index, &layer.order);
            let here: Vec<&Swap> =
                std::iter::from_fn(|| swaps.next_if(|s| s.layer == index)).collect();
            let mut pool = writer.pool(index, &here);
            let here = topped_up(&here, &pool.short_mm3, self.plan.tower.is_some());
            let here: Vec<&Swap> = here.iter().collect();
            let mut tower = writer.tower_line(index, &here);
            if layer.tower_mm3 > 0.0
                && let Some(line) = &mut tower
                && let Some(bead) = line.take(layer.tower_mm3)
            {
                writer.nozzle.lay(&bead, None);
            }
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
        let first = self.plan.swaps.first().map(|s| s.from).or(self.first());
        let next = self.plan.swaps.iter().map(|s| s.to);
        let order: Vec<u8> = first.into_iter().chain(next).collect();
        let mut scripts = Vec::new();
        let mut standing: f64 = 0.0;
        for (number, slot) in order.iter().enumerate() {
            let mut writer = Writer::new(self, standing);
            writer.start(*slot, number == 0);
            for (index, layer) in self.plan.layers.iter().enumerate() {
                if !layer.order.contains(slot) {
                    continue;
                }
                writer.layer(index, &[*slot]);
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
