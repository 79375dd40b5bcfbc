//! What the moves of a print come to, and the moves as the browser draws them.

use super::print::{PrintFile, PrintFiles};
use crate::paths::{BeadKind, Step};
use crate::plan::{Bill, Filament};
use serde::Serialize;

/// A figure from the moves beside the one that was planned from the layers.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct MovesFigure {
    /// What it is of.
    pub of: MovesOf,
    /// From the moves: s or g.
    pub moves: f64,
    /// As planned; none where the plan has no such figure.
    pub planned: Option<f64>,
}

/// What a figure is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum MovesOf {
    /// Time of laying what stays, s.
    Laying,
    /// Time of changes and of what is purged, s.
    Swaps,
    /// Time of travel, lifting and pulling back, s.
    Travel,
    /// Time before the first layer, s.
    Start,
    /// All of the time, s.
    Time,
    /// Plastic of the model, g.
    Model,
    /// Plastic purged, pressed out, in the tower, in supports, and around the first layer, g.
    Purge,
}

/// Figures of all files together. `hands_s`: what a person needs between files.
pub(super) fn figures(
    files: &[PrintFile],
    filaments: &[Filament],
    bill: &Bill,
    hands_s: f64,
) -> Vec<MovesFigure> {
    let (mut laying, mut swaps, mut travel, mut start) = (0.0, hands_s, 0.0, 0.0);
    let (mut model_g, mut purge_g) = (0.0, 0.0);
    if let Some(first) = files.first() {
        start += first.pace.start_s;
    }
    for file in files {
        let (mut slot, mut has_begun) = (1, false);
        for (step, s) in file.steps.iter().zip(&file.seconds) {
            let filament = &filaments[slot as usize - 1];
            match step {
                Step::Slot { slot: next } => slot = *next,
                Step::Layer { .. } => has_begun = true,
                Step::Lay { mm3, kind, .. } => match kind {
                    BeadKind::Tower => {
                        swaps += s;
                        purge_g += filament.grams(*mm3);
                    }
                    BeadKind::Prime | BeadKind::Skirt | BeadKind::Brim | BeadKind::Support => {
                        laying += s;
                        purge_g += filament.grams(*mm3);
                    }
                    _ => {
                        laying += s;
                        model_g += filament.grams(*mm3);
                    }
                },
                Step::Press { mm3, .. } => {
                    swaps += s;
                    purge_g += filament.grams(*mm3);
                }
                Step::Travel { .. }
                | Step::Height { .. }
                | Step::Pull { .. }
                | Step::Push { .. } => travel += s,
                _ if has_begun => swaps += s,
                _ => start += s,
            }
        }
    }
    let times = &bill.times;
    let figure = |of, moves, planned| MovesFigure { of, moves, planned };
    vec![
        figure(
            MovesOf::Laying,
            laying,
            Some(times.walls_s + times.infill_s),
        ),
        figure(
            MovesOf::Swaps,
            swaps,
            Some(
                times.swaps_s + times.purging_s + times.heating_s + times.tower_s + times.reloads_s,
            ),
        ),
        figure(MovesOf::Travel, travel, Some(times.layers_s)),
        figure(MovesOf::Start, start, Some(times.start_s)),
        figure(
            MovesOf::Time,
            laying + swaps + travel + start,
            Some(bill.time_s),
        ),
        figure(MovesOf::Model, model_g, Some(bill.model_g)),
        figure(MovesOf::Purge, purge_g, Some(bill.purge_g + bill.tower_g)),
    ]
}

/// Kinds of moves that lay nothing, after those of beads.
const TRAVEL: u8 = 32;
const HEIGHT: u8 = 33;
const PULL: u8 = 34;
const PUSH: u8 = 35;
const PRESS: u8 = 36;
const CHANGE: u8 = 37;

/// Number of a kind of bead in `VCV1`.
fn code(kind: BeadKind) -> u8 {
    match kind {
        BeadKind::OuterWall => 0,
        BeadKind::InnerWall => 1,
        BeadKind::Thin => 2,
        BeadKind::Skin => 3,
        BeadKind::Bridge => 4,
        BeadKind::Sparse => 5,
        BeadKind::Skirt => 6,
        BeadKind::Brim => 7,
        BeadKind::Prime => 8,
        BeadKind::Tower => 9,
        BeadKind::Support => 10,
        BeadKind::Smoothing => 11,
    }
}

/// The moves of all files, one after the other, as the browser draws them: format `VCV1` of docs/wire-format.md, in the print's
/// frame.
///
/// # Cost
/// Linear in moves.
pub fn moves_bytes(print: &PrintFiles) -> Vec<u8> {
    let files = print
        .files
        .iter()
        .map(|f| (&f.steps[..], &f.seconds[..]))
        .collect::<Vec<_>>();
    steps_bytes(&files, print.shift)
}

/// The moves of files as steps and seconds of each, as for [`moves_bytes`]. `shift`: from the frame of the drawing to the bed's, mm.
pub(super) fn steps_bytes(files: &[(&[Step], &[f64])], shift: [f64; 2]) -> Vec<u8> {
    let mut places: Vec<f32> = Vec::new();
    let (mut ends, mut widths, mut speeds) = (Vec::<f32>::new(), Vec::<u16>::new(), Vec::new());
    let (mut kinds, mut slots) = (Vec::<u8>::new(), Vec::<u8>::new());
    // Where each layer begins: file, layer, first move, and its bottom and top.
    let mut layers: Vec<([u32; 3], [f32; 2])> = Vec::new();
    let mut now = 0.0;
    for (number, (steps, seconds)) in files.iter().enumerate() {
        let (mut at, mut slot) = ([0.0; 3], 1u8);
        for (step, s) in steps.iter().zip(*seconds) {
            now += s;
            let (kind, width, speed) = match step {
                Step::Layer { index, span_mm } => {
                    let first = [number as u32, *index as u32, kinds.len() as u32];
                    layers.push((first, span_mm.map(|mm| mm as f32)));
                    continue;
                }
                Step::Slot { slot: next } => {
                    slot = *next;
                    continue;
                }
                Step::Lay {
                    to,
                    width,
                    speed,
                    kind,
                    ..
                } => {
                    (at[0], at[1]) = (to[0] - shift[0], to[1] - shift[1]);
                    (code(*kind), *width, *speed)
                }
                Step::Travel { to, speed } => {
                    (at[0], at[1]) = (to[0] - shift[0], to[1] - shift[1]);
                    (TRAVEL, 0.0, *speed)
                }
                Step::Height { to, speed } => {
                    at[2] = *to;
                    (HEIGHT, 0.0, *speed)
                }
                Step::Pull { speed, .. } => (PULL, 0.0, *speed),
                Step::Push { speed, .. } => (PUSH, 0.0, *speed),
                Step::Press { .. } => (PRESS, 0.0, 0.0),
                Step::Select { .. } | Step::Prompt { .. } => (CHANGE, 0.0, 0.0),
                _ => continue,
            };
            places.extend(at.map(|c| c as f32));
            ends.push(now as f32);
            widths.push((1000.0 * width).round() as u16);
            speeds.push((10.0 * speed).round().min(65_535.0) as u16);
            kinds.push(kind);
            slots.push(slot);
        }
    }
    let count = kinds.len();
    let mut out = Vec::with_capacity(20 + 22 * count + 20 * layers.len() + 16);
    out.extend_from_slice(b"VCV1");
    for n in [1, count as u32, layers.len() as u32, files.len() as u32] {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for n in layers.iter().flat_map(|(first, _)| first) {
        out.extend_from_slice(&n.to_le_bytes());
    }
    let spans = layers.iter().flat_map(|(_, span)| span);
    for n in spans.chain(&places).chain(&ends) {
        out.extend_from_slice(&n.to_le_bytes());
    }
    for n in widths.iter().chain(&speeds) {
        out.extend_from_slice(&n.to_le_bytes());
    }
    out.extend_from_slice(&kinds);
    out.extend_from_slice(&slots);
    out
}
