//! From steps to text.

use crate::machine::Printer;
use crate::paths::{BeadKind, Step};
use crate::rinse::FILAMENT_MM2;
use std::fmt::Write;

/// What of a machine decides how it is told.
#[derive(Debug, Clone, PartialEq)]
pub struct Dialect {
    /// Section of the filament in each slot, mm², from slot 1 on.
    pub section_mm2: Vec<f64>,
    /// Word that makes the machine wait for a person.
    pub pause: String,
    /// Lines that stand above everything, as comments.
    pub header: Vec<String>,
}

impl Dialect {
    /// For a printer and what is in its slots.
    pub fn of(printer: &Printer, section_mm2: Vec<f64>, header: Vec<String>) -> Dialect {
        Dialect {
            section_mm2,
            pause: printer.printing.pause_word.clone(),
            header,
        }
    }
}

/// Filament in whole steps of 10⁻⁵ mm, so that rounding never adds up.
#[derive(Default)]
struct Feed {
    /// What should have been fed so far, mm, and what was, in steps.
    due_mm: f64,
    fed: i64,
}

impl Feed {
    /// The steps that bring it to where it should be.
    fn by(&mut self, mm: f64) -> i64 {
        self.due_mm += mm;
        let all = (self.due_mm * 1e5).round() as i64;
        let steps = all - self.fed;
        self.fed = all;
        steps
    }
}

/// The text of a file, line by line.
///
/// # Cost
/// Linear in steps.
pub fn words(steps: &[Step], dialect: &Dialect) -> String {
    let mut text = String::with_capacity(40 * steps.len());
    for line in &dialect.header {
        let _ = writeln!(text, "; {}", plain(line));
    }
    text.push_str("G21\nG90\nM83\n");
    let mut feed = Feed::default();
    let mut section = FILAMENT_MM2;
    let mut speed_mm_min = 0;
    let mut kind: Option<BeadKind> = None;
    for step in steps {
        let mut pace = |text: &mut String, mm_s: f64| {
            let now = (60.0 * mm_s).round().max(1.0) as i64;
            if now != speed_mm_min {
                let _ = write!(text, " F{now}");
                speed_mm_min = now;
            }
            text.push('\n');
        };
        match step {
            Step::Layer { index, span_mm } => {
                let _ = writeln!(
                    text,
                    "; layer {} to {} mm",
                    index + 1,
                    decimal(span_mm[1], 3)
                );
            }
            Step::Slot { slot } => {
                section = *dialect
                    .section_mm2
                    .get(*slot as usize - 1)
                    .unwrap_or(&FILAMENT_MM2);
                kind = None;
                let _ = writeln!(text, "; slot {slot}");
            }
            Step::Lay {
                to,
                mm3,
                speed,
                kind: here,
                ..
            } => {
                if kind != Some(*here) {
                    kind = Some(*here);
                    let _ = writeln!(text, "; {}", name(*here));
                }
                let e = feed.by(mm3 / section);
                text.push_str("G1 X");
                put(&mut text, to[0]);
                text.push_str(" Y");
                put(&mut text, to[1]);
                text.push_str(" E");
                put_steps(&mut text, e, 5);
                pace(&mut text, *speed);
            }
            Step::Travel { to, speed } => {
                text.push_str("G0 X");
                put(&mut text, to[0]);
                text.push_str(" Y");
                put(&mut text, to[1]);
                pace(&mut text, *speed);
            }
            Step::Height { to, speed } => {
                text.push_str("G0 Z");
                put(&mut text, *to);
                pace(&mut text, *speed);
            }
            Step::Pull { mm, speed } => {
                text.push_str("G1 E");
                put_steps(&mut text, feed.by(-mm), 5);
                pace(&mut text, *speed);
            }
            Step::Push { mm, speed } => {
                text.push_str("G1 E");
                put_steps(&mut text, feed.by(*mm), 5);
                pace(&mut text, *speed);
            }
            Step::Press { mm3, flow } => {
                text.push_str("G1 E");
                put_steps(&mut text, feed.by(mm3 / section), 5);
                pace(&mut text, flow / section);
            }
            Step::Select { tool } => {
                let _ = writeln!(text, "T{tool}");
            }
            Step::Mix { tool, shares } => {
                for (feed, share) in shares.iter().enumerate() {
                    let _ = writeln!(text, "M163 P{feed} S{}", decimal(*share, 4));
                }
                let _ = writeln!(text, "M164 S{tool}");
            }
            Step::Prompt { words, .. } => {
                let words = plain(words);
                let _ = writeln!(text, "M117 {words}\n{} {words}", dialect.pause);
            }
            Step::Heat { tool, c, waits } => {
                let code = if *waits { "M109" } else { "M104" };
                text.push_str(code);
                if let Some(tool) = tool {
                    let _ = write!(text, " T{tool}");
                }
                let _ = writeln!(text, " S{}", c.round());
            }
            Step::Bed { c, waits } => {
                let code = if *waits { "M190" } else { "M140" };
                let _ = writeln!(text, "{code} S{}", c.round());
            }
            Step::Fan { share } => {
                let _ = writeln!(text, "M106 S{}", (255.0 * share).round());
            }
            Step::Home { with_height } => {
                text.push_str(if *with_height { "G28\n" } else { "G28 X Y\n" });
            }
            Step::Passage { text: own } => {
                for line in own.lines() {
                    let _ = writeln!(text, "{}", line.trim_end());
                }
                // Whatever it set, what follows is meant as before.
                text.push_str("G21\nG90\nM83\n");
                speed_mm_min = 0;
                kind = None;
            }
            Step::Say { words } => {
                let _ = writeln!(text, "M117 {}", plain(words));
            }
            Step::Rest => text.push_str("M84\n"),
        }
    }
    text
}

/// What a kind of bead is called in a comment.
fn name(kind: BeadKind) -> &'static str {
    match kind {
        BeadKind::Skirt => "skirt",
        BeadKind::Brim => "brim",
        BeadKind::OuterWall => "outer wall",
        BeadKind::InnerWall => "inner wall",
        BeadKind::Thin => "thin",
        BeadKind::Skin => "skin",
        BeadKind::Bridge => "bridge",
        BeadKind::Smoothing => "smoothing",
        BeadKind::Sparse => "sparse",
        BeadKind::Support => "support",
        BeadKind::Tower => "tower",
        BeadKind::Prime => "prime",
    }
}

/// Text without anything that a machine would take for more than text.
pub fn plain(words: &str) -> String {
    words
        .chars()
        .map(|c| match c {
            ';' | '(' | ')' | '*' => ',',
            c if c.is_control() => ' ',
            c => c,
        })
        .collect()
}

/// A length to a thousandth.
fn put(text: &mut String, mm: f64) {
    put_steps(text, (mm * 1e3).round() as i64, 3);
}

/// A whole number of steps of 10^-digits, without needless zeros.
fn put_steps(text: &mut String, steps: i64, digits: u32) {
    let unit = 10i64.pow(digits);
    if steps < 0 {
        text.push('-');
    }
    let steps = steps.abs();
    let _ = write!(text, "{}", steps / unit);
    let mut rest = steps % unit;
    if rest > 0 {
        let mut wide = digits as usize;
        while rest % 10 == 0 {
            rest /= 10;
            wide -= 1;
        }
        let _ = write!(text, ".{rest:0wide$}");
    }
}

/// A number with at most so many digits after the point, without needless zeros.
pub(super) fn decimal(value: f64, digits: u32) -> String {
    let mut text = String::new();
    put_steps(
        &mut text,
        (value * 10f64.powi(digits as i32)).round() as i64,
        digits,
    );
    text
}
