//! How numbers are meant at a place of a text, and how that is said again after something was put in.

use crate::gcode::reader::{Modes, Reader, State};
use crate::gcode::words::decimal;

/// How numbers are meant at a place of a text.
#[derive(Debug, Clone, Copy)]
pub(super) struct Frame {
    modes: Modes,
    /// What stands for zero, mm.
    pub(super) zero: [f64; 3],
    /// What the machine calls the filament fed so far, mm.
    feed_mm: f64,
}

impl Frame {
    /// After all that a reader has read, so that nothing is due.
    pub(super) fn of(reader: &Reader<'_>) -> Frame {
        Frame::told(reader.state())
    }

    /// Before the line that a reader has read last.
    pub(super) fn before(reader: &Reader<'_>) -> Frame {
        Frame::told(reader.state_before())
    }

    fn told(state: &State) -> Frame {
        Frame {
            modes: state.modes,
            zero: state.zero,
            feed_mm: state.feed_mm,
        }
    }

    /// A length, or a speed, as it is written there.
    pub(super) fn mm(&self, mm: f64) -> String {
        number(mm / self.modes.unit_mm)
    }

    /// A place on an axis, as it is written there.
    pub(super) fn place(&self, axis: usize, mm: f64) -> String {
        self.mm(mm - self.zero[axis])
    }

    /// Lines after which numbers are meant as there, from `G90` and `M83` in the same units.
    pub(super) fn again(&self) -> Vec<String> {
        let modes = self.modes;
        let mut lines = Vec::new();
        if modes.is_relative {
            lines.push("G91".to_string());
        }
        match modes.feeds_relative {
            true => lines.push("M83".into()),
            false => lines.extend(["M82".into(), format!("G92 E{}", self.mm(self.feed_mm))]),
        }
        if modes.speed_mm_min > 0.0 {
            lines.push(format!("G1 F{}", self.mm(modes.speed_mm_min)));
        }
        lines
    }

    /// The word for the units there.
    pub(super) fn unit(&self) -> &'static str {
        match self.modes.unit_mm {
            1.0 => "G21",
            _ => "G20",
        }
    }
}

/// A number to 10⁻⁷, fine enough in inches as well.
pub(super) fn number(value: f64) -> String {
    decimal(value, 7)
}
