//! A nozzle that is told what to lay, and knows where it is and what it has pulled back.

use super::bead::{Bead, BeadKind, way};
use super::steps::Step;
use crate::machine::Printer;

/// Height above everything that stands at which things are done that take a while, mm.
pub(super) const CLEAR_MM: f64 = 2.0;

/// Speed of going up and down, mm/s (common practice, no source).
const LIFT_MM_S: f64 = 10.0;

/// Writes steps.
pub(super) struct Nozzle<'a> {
    pub(super) printer: &'a Printer,
    pub(super) steps: Vec<Step>,
    /// From the print's frame to the bed's.
    pub(super) shift: [f64; 2],
    /// In the bed's frame; none before the first move.
    pub(super) at: Option<[f64; 2]>,
    pub(super) z: f64,
    pulled_mm: f64,
    /// Height of the layer that is laid, mm, and whether it is the first.
    pub(super) layer: ([f64; 2], bool),
    /// By how much everything is slowed down, so that the layer takes its time.
    pub(super) slowed: f64,
}

impl<'a> Nozzle<'a> {
    pub(super) fn new(printer: &'a Printer, shift: [f64; 2]) -> Nozzle<'a> {
        Nozzle {
            printer,
            steps: Vec::new(),
            shift,
            at: None,
            z: 0.0,
            pulled_mm: 0.0,
            layer: ([0.0; 2], true),
            slowed: 1.0,
        }
    }

    pub(super) fn say(&mut self, step: Step) {
        self.steps.push(step);
    }

    /// A place of the print in the bed's frame.
    pub(super) fn on_bed(&self, p: [f64; 2]) -> [f64; 2] {
        [0, 1].map(|i| p[i] + self.shift[i])
    }

    /// Goes to a height, or as high as the printer reaches.
    pub(super) fn go_up_to(&mut self, z: f64) {
        let z = z.min(self.printer.bed_mm[2]);
        if (self.z - z).abs() > 1e-9 {
            self.climb(z);
        }
    }

    /// Goes to a height from wherever it is.
    pub(super) fn climb(&mut self, z: f64) {
        let z = z.min(self.printer.bed_mm[2]);
        self.say(Step::Height {
            to: z,
            speed: LIFT_MM_S,
        });
        self.z = z;
    }

    pub(super) fn pull(&mut self) {
        let printing = &self.printer.printing;
        let mm = printing.retract_mm - self.pulled_mm;
        if mm > 1e-9 {
            self.say(Step::Pull {
                mm,
                speed: printing.retract_mm_s,
            });
            self.pulled_mm = printing.retract_mm;
        }
    }

    pub(super) fn push(&mut self) {
        if self.pulled_mm > 1e-9 {
            self.say(Step::Push {
                mm: self.pulled_mm,
                speed: self.printer.printing.retract_mm_s,
            });
            self.pulled_mm = 0.0;
        }
    }

    /// Goes to a place of the bed at a height, above everything in between: `above` is how high that is.
    pub(super) fn go_above(&mut self, to: [f64; 2], above: f64) {
        self.pull();
        if self.z < above {
            self.go_up_to(above);
        }
        self.travel(to);
    }

    fn travel(&mut self, to: [f64; 2]) {
        let is_there = self.at.is_some_and(|at| way(at, to) < 1e-6);
        if !is_there {
            self.say(Step::Travel {
                to,
                speed: self.printer.printing.travel_mm_s,
            });
            self.at = Some(to);
        }
    }

    /// Goes to where a bead begins, on the layer's height.
    fn come_to(&mut self, to: [f64; 2], ceiling: Option<f64>) {
        let printing = &self.printer.printing;
        let top = self.layer.0[1];
        let near = self
            .at
            .is_some_and(|at| way(at, to) <= printing.short_travel_mm);
        match ceiling {
            Some(ceiling) => self.go_above(to, ceiling),
            None if near && (self.z - top).abs() < 1e-9 => self.travel(to),
            None => self.go_above(to, top.max(self.z) + self.lift()),
        }
        self.go_up_to(top);
    }

    fn lift(&self) -> f64 {
        match self.z > self.layer.0[1] + 1e-9 {
            true => 0.0,
            false => self.printer.printing.lift_mm,
        }
    }

    /// Lays a bead. `ceiling`: how high it has to go to come there, if it may not go straight.
    pub(super) fn lay(&mut self, bead: &Bead, ceiling: Option<f64>) {
        let Some(first) = bead.line.first() else {
            return;
        };
        let start = self.on_bed(first.at);
        let is_there = self.at.is_some_and(|at| way(at, start) < 1e-6)
            && (self.z - self.layer.0[1]).abs() < 1e-9;
        if !is_there {
            self.come_to(start, ceiling);
        }
        self.push();
        let height = self.layer.0[1] - self.layer.0[0];
        for (_, to, width) in bead.stretches() {
            let to = self.on_bed(to);
            let length = self.at.map_or(0.0, |at| way(at, to));
            if length < 1e-6 {
                continue;
            }
            let speed = self.speed(bead.kind, width * height);
            self.say(Step::Lay {
                to,
                width,
                mm3: width * height * length,
                speed,
                kind: bead.kind,
            });
            self.at = Some(to);
        }
    }

    /// Speed for a bead of a section in mm².
    pub(super) fn speed(&self, kind: BeadKind, mm2: f64) -> f64 {
        let (printer, printing) = (self.printer, &self.printer.printing);
        let usual = match kind {
            BeadKind::OuterWall => printer.wall_speed_mm_s * printing.outer_wall_speed,
            BeadKind::Sparse => printer.infill_speed_mm_s,
            BeadKind::Tower => (printer.purge_mm3_s / mm2).min(printing.travel_mm_s),
            BeadKind::InnerWall
            | BeadKind::Thin
            | BeadKind::Skin
            | BeadKind::Skirt
            | BeadKind::Brim
            | BeadKind::Prime => printer.wall_speed_mm_s,
        };
        let usual = match self.layer.1 && kind != BeadKind::Tower {
            true => usual.min(printing.first_layer_mm_s),
            false => usual,
        };
        // Below this plastic sticks to the nozzle (common practice, no source).
        const LEAST_MM_S: f64 = 8.0;
        let slowed = match kind {
            BeadKind::Tower => usual,
            _ => (usual * self.slowed).max(usual.min(LEAST_MM_S)),
        };
        slowed.min(printing.most_flow_mm3_s / mm2)
    }
}
