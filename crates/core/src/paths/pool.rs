//! What of a layer purge is laid as, in place of what would print it.

use super::bead::Bead;
use super::layer::SlotBeads;
use super::writer::Writer;
use crate::plan::Swap;
use crate::rules::Takes;
use std::collections::VecDeque;

/// What of a layer purge is laid as, change by change, and the rest by slot.
#[derive(Default)]
pub(super) struct Pool {
    pub(super) purged: VecDeque<Vec<Bead>>,
    /// What no bead was left for, change by change, mm³.
    pub(super) short_mm3: Vec<f64>,
    own: Vec<Own>,
    /// Whether walls and skins of what takes purge are in it too.
    pub(super) is_broken_up: bool,
}

/// What is left of some beads.
struct Own {
    /// The slot that prints it.
    slot: u8,
    /// Whether it is marked to take purge.
    is_marked: bool,
    beads: Vec<Bead>,
}

impl Pool {
    /// Takes beads for the purge of a change to a slot, out of those that are marked or of the others; what is left without, mm³.
    fn take(
        &mut self,
        (to, is_marked): (u8, bool),
        mut due: f64,
        height: f64,
        taken: &mut Vec<Bead>,
    ) -> f64 {
        let mut turn: Vec<&mut Own> = self.own.iter_mut().collect();
        turn.retain(|own| own.is_marked == is_marked);
        // Its own first: that needs no travel.
        turn.sort_by_key(|own| own.slot != to);
        for own in turn {
            while due > 1e-6
                && let Some(bead) = own.beads.pop()
            {
                let mm3 = bead.ground_mm2() * height;
                if mm3 <= due {
                    due -= mm3;
                    taken.push(bead);
                } else {
                    let (first, rest) = bead.cut(due / height);
                    due = 0.0;
                    taken.push(first);
                    own.beads.push(rest);
                }
            }
        }
        due.max(0.0)
    }

    /// What is left for a slot.
    pub(super) fn rest(&mut self, slot: u8) -> Vec<Bead> {
        let own = self.own.iter_mut().filter(|own| own.slot == slot);
        own.flat_map(|own| std::mem::take(&mut own.beads)).collect()
    }
}

impl Writer<'_> {
    /// The slot that prints some beads of a layer, as far as no purge does.
    pub(super) fn printed_by(&self, index: usize, beads: &SlotBeads) -> u8 {
        let lent = self.asked.plan.layers[index].lent.get(&beads.slot);
        lent.copied().unwrap_or(beads.slot)
    }

    /// Shares out what purge may be laid as: each change takes what the plan gives it, in order.
    pub(super) fn pool(&self, index: usize, swaps: &[&Swap]) -> Pool {
        let layer = &self.asked.layers[index];
        let height = layer.span_mm[1] - layer.span_mm[0];
        let is_marked = swaps.iter().any(|s| s.split.marked_mm3 > 0.0);
        let mut pool = Pool {
            is_broken_up: is_marked,
            ..Pool::default()
        };
        for beads in &layer.slots {
            let takes_all = is_marked && beads.takes == Some(Takes::All);
            // What comes last is taken first: what nobody sees.
            let seen = beads.islands.iter().flatten().filter(|_| takes_all);
            let all: Vec<Bead> = seen.chain(&beads.sparse).cloned().collect();
            pool.own.push(Own {
                slot: self.printed_by(index, beads),
                is_marked: beads.takes.is_some(),
                beads: self.moved(&all),
            });
        }
        for swap in swaps {
            let mut taken = Vec::new();
            let split = swap.split;
            let marked = (true, split.marked_mm3);
            let mut short = 0.0;
            for (is_marked, due) in [marked, (false, split.infill_mm3 - split.marked_mm3)] {
                short += pool.take((swap.to, is_marked), due, height, &mut taken);
            }
            pool.purged.push_back(taken);
            pool.short_mm3.push(short);
        }
        pool
    }
}

/// Changes of a layer, with what no bead was left for pressed out where the rest of their purge goes.
pub(super) fn topped_up(swaps: &[&Swap], short_mm3: &[f64], has_tower: bool) -> Vec<Swap> {
    let topped = |(swap, short): (&&Swap, &f64)| {
        let mut swap = (*swap).clone();
        let split = &mut swap.split;
        match has_tower && split.tower_mm3 >= split.bin_mm3 {
            true => split.tower_mm3 += short,
            false => split.bin_mm3 += short,
        }
        swap
    };
    swaps.iter().zip(short_mm3).map(topped).collect()
}
