//! All beads of a layer, slot by slot.

use super::bead::{Bead, BeadKind};
use super::bridge::bridges;
use super::fill::{smoothing, solid, sparse};
use super::walls::{Walls, printable, walls};
use super::zones::LEAST_SPARSE_MM2;
use crate::machine::Printer;
use crate::rules::Takes;
use crate::shapes::Area;

/// What of a layer is laid from one slot.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct SlotBeads {
    /// From 1: the slot that it is given to. Where [`SlotBeads::takes`] says all, the plan may lend it to another.
    pub slot: u8,
    /// What of it takes purge.
    pub takes: Option<Takes>,
    /// Where a nozzle may travel over this colour alone.
    pub inside: Area,
    /// What hangs together, each by itself: walls first or last as asked, then what fills it.
    pub islands: Vec<Vec<Bead>>,
    /// Over its tops, once everything else of it is laid.
    pub smoothing: Vec<Bead>,
    /// Sparse inside, which purge of any slot may take the place of.
    pub sparse: Vec<Bead>,
}

/// One layer that is to be laid.
pub(super) struct LayerPlace<'a> {
    pub(super) printer: &'a Printer,
    /// From 0.
    pub(super) layer: usize,
    /// Middle of it, mm.
    pub(super) z_mm: f64,
    /// What of it is sparse.
    pub(super) sparse: &'a Area,
    /// What lies behind its outermost line.
    pub(super) behind: &'a Area,
    /// What lies over nothing, and what does not.
    pub(super) hanging: &'a Area,
    pub(super) held: &'a Area,
    /// What of it nothing lies on; empty unless it is to be smoothed.
    pub(super) top: &'a Area,
}

impl LayerPlace<'_> {
    /// The beads of a slot's area, told by its number ([`Takes::ground`]); `beside`: what other slots have, grown by the lines along borders.
    pub(super) fn beads(&self, ground: u16, area: &Area, beside: &Area) -> SlotBeads {
        let (slot, takes) = Takes::of_ground(ground);
        let (printer, line_mm) = (self.printer, self.printer.line_width_mm);
        let printing = &printer.printing;
        let mut found = SlotBeads {
            slot,
            takes,
            inside: area.offset(-super::stack::INSIDE_LINES * line_mm),
            ..SlotBeads::default()
        };
        let open = area.and(self.sparse);
        let open = match beside.is_empty() {
            true => open,
            false => open
                .minus(beside)
                .opened(0.5 * line_mm)
                .without_specks(LEAST_SPARSE_MM2),
        };
        if !self.top.is_empty() {
            found.smoothing = smoothing(&area.and(self.top), self.angle() + 90.0, line_mm);
        }
        for island in area.clone().islands() {
            let open = island.and(&open);
            let laid = self.walls_and_rest(island, &open, beside.is_empty());
            let mut lines: Vec<Bead> = laid.lines.into_iter().flatten().collect();
            for bead in &mut lines {
                bead.kind = match self.is_seen(bead) {
                    true => BeadKind::OuterWall,
                    false => BeadKind::InnerWall,
                };
            }
            // A stable sort: each kind stays in its order.
            lines.sort_by_key(|b| (b.kind == BeadKind::OuterWall) != printing.walls_outside_in);
            let mut beads = lines;
            beads.extend(laid.thin);
            let (over_nothing, rest) = self.bridged(laid.rest);
            beads.extend(bridges(over_nothing, self.held, line_mm));
            beads.extend(solid(rest, printing.skin, self.angle(), line_mm));
            if !beads.is_empty() {
                found.islands.push(beads);
            }
            let share = printer.infill;
            let at = (self.layer, self.z_mm);
            found
                .sparse
                .extend(sparse(&open, printing.sparse, share, at, line_mm));
        }
        found
    }

    /// Walls of an island, and what is left to be filled solid.
    ///
    /// Alone, an island has its walls along its outline, and what is sparse begins behind them. Beside other slots, and where
    /// slivers would be left between walls and what is sparse, walls go around all that is solid, so that it is filled.
    fn walls_and_rest(&self, island: Area, open: &Area, is_alone: bool) -> Walls {
        let (count, line_mm) = (self.printer.walls as usize, self.printer.line_width_mm);
        if open.is_empty() {
            return walls(&island, count, line_mm);
        }
        if is_alone {
            let mut laid = walls(&island, count, line_mm);
            laid.rest = laid.rest.minus(open);
            let lost = laid.rest.mm2() - printable(&laid.rest, line_mm).mm2();
            const FEW: f64 = 0.01;
            if lost < FEW * (island.mm2() - open.mm2()) {
                return laid;
            }
        }
        walls(&island.minus(open), count, line_mm)
    }

    /// Whether any of a bead is at the outline of the layer, and not behind another wall.
    fn is_seen(&self, bead: &Bead) -> bool {
        const LOOKS: usize = 12;
        let step = bead.line.len().div_ceil(LOOKS).max(1);
        let places = bead.line.iter().step_by(step);
        places.map(|j| j.at).any(|p| !self.behind.holds(p))
    }

    /// What of a solid area is laid as bridges: what hangs, and a line around it to hold on to; and the rest.
    fn bridged(&self, rest: Area) -> (Area, Area) {
        let line_mm = self.printer.line_width_mm;
        let over = match rest.bounds().filter(|_| !self.hanging.is_empty()) {
            None => Area::default(),
            Some((low, high)) => {
                let far = 2.0 * line_mm;
                let hanging = self
                    .hanging
                    .near(low.map(|c| c - far), high.map(|c| c + far));
                rest.and(&hanging.offset(line_mm))
            }
        };
        const LEAST_MM2: f64 = 2.0;
        let over = over.opened(0.75 * line_mm).without_specks(LEAST_MM2);
        match over.is_empty() {
            true => (over, rest),
            false => rest.split(&over),
        }
    }

    fn angle(&self) -> f64 {
        [45.0, 135.0][self.layer % 2]
    }
}
