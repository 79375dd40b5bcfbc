//! Simple supports: what hangs further out than an angle allows stands on sparse rows down to the bed or to the print, with a denser
//! layer next to what it holds.

use super::bead::{Bead, BeadKind};
use super::rows::{Rows, rows};
use crate::layers::LayerFaces;
use crate::machine::Printer;
use crate::shapes::Area;

/// What holds up on one layer.
#[derive(Debug, Clone, Default)]
pub(super) struct Props {
    /// All of it.
    pub(super) all: Area,
    /// What of it is next to what it holds.
    touching: Area,
}

/// Share that is filled next to what is held.
const TOUCHING_SHARE: f64 = 0.6;

/// Smaller pieces hold nothing, mm².
const LEAST_MM2: f64 = 4.0;

/// What holds up, layer by layer; empty without supports.
///
/// # Cost
/// Six operations on outlines a layer, one after the other from the top down.
pub(super) fn supports(faces: &[LayerFaces], printer: &Printer) -> Vec<Props> {
    let printing = &printer.printing;
    if !printing.supports {
        return Vec::new();
    }
    let line_mm = printer.line_width_mm;
    let gap = printing.support_gap_layers as usize;
    let hanging: Vec<Area> = (0..faces.len())
        .map(|index| {
            let Some(below) = index.checked_sub(1) else {
                return Area::default();
            };
            let [z0, z1] = faces[index].span_mm;
            let out = (z1 - z0) * printing.support_angle_deg.to_radians().tan();
            let over = faces[index]
                .section
                .minus(&faces[below].section.offset(out));
            over.opened(0.5 * line_mm).without_specks(LEAST_MM2)
        })
        .collect();
    let mut found = vec![Props::default(); faces.len()];
    let mut above = Area::default();
    for index in (0..faces.len()).rev() {
        // What is held by this layer, with a gap between.
        let held = hanging.get(index + 1 + gap);
        let held = held.filter(|h| !h.is_empty());
        if let Some(held) = held {
            above = above.or(&held.offset(line_mm));
        }
        if above.is_empty() {
            continue;
        }
        let clear = faces[index].section.offset(printing.support_gap_mm);
        let all = above.minus(&clear);
        let all = all.opened(0.5 * line_mm).without_specks(LEAST_MM2);
        above = all.clone();
        found[index] = Props {
            touching: held.map_or_else(Area::default, |h| all.and(&h.offset(line_mm))),
            all,
        };
    }
    found
}

impl Props {
    /// Its beads on a layer.
    pub(super) fn beads(&self, layer: usize, printer: &Printer) -> Vec<Bead> {
        let line_mm = printer.line_width_mm;
        let sparse = self.all.minus(&self.touching);
        // On the bed it has to hold by itself.
        let share = match layer {
            0 => TOUCHING_SHARE,
            _ => printer.printing.support_share,
        };
        let of = |area: &Area, share: f64, angle_deg: f64| -> Vec<Bead> {
            let inner = area.offset(-0.5 * line_mm);
            let how = Rows {
                angle_deg,
                apart_mm: line_mm / share.max(0.01),
                is_joined: true,
                fits: false,
            };
            let lines = rows(&inner, how).lines;
            let bead = |l: &Vec<[f64; 2]>| Bead::even(BeadKind::Support, l, line_mm, false);
            lines.iter().map(bead).collect()
        };
        let mut beads = of(&sparse, share, 0.0);
        beads.extend(of(&self.touching, TOUCHING_SHARE, 90.0));
        beads
    }
}
