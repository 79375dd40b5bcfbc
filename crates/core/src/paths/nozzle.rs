//! A nozzle that is told what to lay, and knows where it is and what it has pulled back.

use super::bead::{Bead, BeadKind, way};
use super::steps::Step;
use super::ways::Ways;
use crate::machine::{LIFT_MM_S, Printer};

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
    /// Most speed of what is laid now, mm/s; for small islands on the bed.
    pub(super) most_mm_s: f64,
    /// Where it may travel without leaving the colour that it lays, and without leaving the print.
    pub(super) own: Ways,
    pub(super) all: Ways,
    /// Whether another colour of this layer is laid already.
    pub(super) is_beside_laid: bool,
    /// Share of the fan's speed, as it was told and as it is due but for bridges.
    fan: f64,
    pub(super) fan_due: f64,
    /// What was laid last, back to its beginning, for a wipe.
    last: Vec<[f64; 2]>,
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
            most_mm_s: f64::INFINITY,
            own: Ways::default(),
            all: Ways::default(),
            is_beside_laid: false,
            fan: 0.0,
            fan_due: 0.0,
            last: Vec::new(),
        }
    }

    pub(super) fn say(&mut self, step: Step) {
        self.steps.push(step);
    }

    /// Says lines of the maker's own, after which nobody knows where it is, nor how fast the fan runs.
    pub(super) fn say_own(&mut self, text: String) {
        self.say(Step::Passage { text });
        (self.at, self.z, self.fan) = (None, f64::NAN, f64::NAN);
        self.last.clear();
    }

    fn blow(&mut self, share: f64) {
        let is_so = (share - self.fan).abs() <= 1e-9;
        if !is_so {
            self.fan = share;
            self.say(Step::Fan { share });
        }
    }

    /// A place of the print in the bed's frame.
    pub(super) fn on_bed(&self, p: [f64; 2]) -> [f64; 2] {
        [0, 1].map(|i| p[i] + self.shift[i])
    }

    /// Goes to a height, or as high as the printer reaches.
    pub(super) fn go_up_to(&mut self, z: f64) {
        let z = z.min(self.printer.bed_mm[2]);
        let is_there = (self.z - z).abs() <= 1e-9;
        if !is_there {
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
            self.wipe();
        }
    }

    /// Goes on along what was laid last.
    fn wipe(&mut self) {
        let mut left = self.printer.printing.wipe_mm;
        let way_back = std::mem::take(&mut self.last);
        for to in way_back {
            let Some(at) = self.at.filter(|_| left > 1e-6) else {
                return;
            };
            let far = way(at, to);
            if far > 1e-6 {
                let t = (left / far).min(1.0);
                left -= far;
                self.travel([0, 1].map(|i| at[i] + t * (to[i] - at[i])));
            }
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
        let is_above = self.z >= above;
        if !is_above {
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
        let is_low = (self.z - top).abs() < 1e-9;
        let Some(at) = self.at.filter(|_| ceiling.is_none() && is_low) else {
            let above = ceiling.unwrap_or(top + self.lift()).max(top);
            self.go_above(to, above.max(self.z));
            return self.go_up_to(top);
        };
        if way(at, to) <= printing.short_travel_mm {
            return self.travel(to);
        }
        if printing.stays_inside {
            let shift = self.shift;
            let on_print = |p: [f64; 2]| [0, 1].map(|i| p[i] - shift[i]);
            let ends = [at, to].map(on_print);
            let own = self.own.way(ends);
            let found = own.or_else(|| match self.is_beside_laid {
                // Over what another colour has just laid the nozzle is lifted.
                true => None,
                false => self.all.way(ends),
            });
            if let Some(found) = found {
                for p in found {
                    self.travel(self.on_bed(p));
                }
                return;
            }
        }
        self.go_above(to, top + self.lift());
        self.go_up_to(top);
    }

    /// How high it is lifted for travel that leaves what it prints.
    fn lift(&self) -> f64 {
        let (printing, top) = (&self.printer.printing, self.layer.0[1]);
        let is_due = (printing.lift_from_mm..=printing.lift_to_mm).contains(&top)
            && (self.is_beside_laid || !printing.lift_over_colours);
        match is_due {
            true => printing.lift_mm,
            false => 0.0,
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
        self.blow(match bead.kind {
            BeadKind::Bridge => self.printer.printing.bridge_fan.max(self.fan_due),
            _ => self.fan_due,
        });
        let height = self.layer.0[1] - self.layer.0[0];
        let flow = match bead.kind {
            BeadKind::Tower | BeadKind::Prime => 1.0,
            _ if self.layer.1 => self.printer.printing.first_layer_flow,
            _ => 1.0,
        };
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
                mm3: flow * width * height * length,
                speed,
                kind: bead.kind,
            });
            self.at = Some(to);
        }
        let places = bead.line.iter().map(|j| self.on_bed(j.at));
        self.last = match bead.is_closed {
            // Once more over its beginning.
            true => places.skip(1).collect(),
            false => places.rev().skip(1).collect(),
        };
    }

    /// Speed for a bead of a section in mm².
    pub(super) fn speed(&self, kind: BeadKind, mm2: f64) -> f64 {
        let (printer, printing) = (self.printer, &self.printer.printing);
        let usual = match kind {
            BeadKind::OuterWall => printer.wall_speed_mm_s * printing.outer_wall_speed,
            BeadKind::Sparse => printer.infill_speed_mm_s,
            BeadKind::Bridge => printing.bridge_mm_s,
            BeadKind::Tower => (printer.purge_mm3_s / mm2).min(printing.travel_mm_s),
            BeadKind::InnerWall
            | BeadKind::Thin
            | BeadKind::Skin
            | BeadKind::Support
            | BeadKind::Smoothing
            | BeadKind::Skirt
            | BeadKind::Brim
            | BeadKind::Prime => printer.wall_speed_mm_s,
        };
        let usual = match self.layer.1 && kind != BeadKind::Tower {
            true => usual.min(printing.first_layer_mm_s).min(self.most_mm_s),
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
