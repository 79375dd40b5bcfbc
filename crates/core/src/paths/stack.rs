//! All beads of a print, layer by layer, for one piece.

use super::bead::Bead;
use super::edges::brim;
use super::layer::{LayerPlace, SlotBeads};
use super::zones;
use crate::layers::{LayerFaces, Stopped};
use crate::machine::Printer;
use crate::shapes::Area;
use rayon::prelude::*;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};

/// One layer of beads.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct LayerBeads {
    /// Bottom and top, mm.
    pub span_mm: [f64; 2],
    /// By slot, ascending.
    pub slots: Vec<SlotBeads>,
    /// Brim of the first layer.
    pub brim: Vec<Bead>,
    /// What stands on the bed, on the first layer.
    pub ground: Area,
}

/// The beads of a print from its layers as shapes.
///
/// # Errors
/// [`Stopped`] if `progress`, told the finished share, said so.
///
/// # Cost
/// Linear in the length of the beads, n log n in the corners of each layer; layers are independent of one another.
pub fn beads(
    faces: &[LayerFaces],
    printer: &Printer,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Vec<LayerBeads>, Stopped> {
    let open = open_of(faces, printer);
    let (stopped, done) = (AtomicBool::new(false), AtomicUsize::new(0));
    let of_layer = |(index, face): (usize, &LayerFaces)| {
        if stopped.load(Ordering::Relaxed) {
            return LayerBeads::default();
        }
        let found = layer_beads(face, index, &open[index], printer);
        let share = (done.fetch_add(1, Ordering::Relaxed) + 1) as f64 / faces.len() as f64;
        if !progress(share) {
            stopped.store(true, Ordering::Relaxed);
        }
        found
    };
    let layers = faces.par_iter().enumerate().map(of_layer).collect();
    match stopped.load(Ordering::Relaxed) {
        true => Err(Stopped),
        false => Ok(layers),
    }
}

/// Of each layer what is sparse.
fn open_of(faces: &[LayerFaces], printer: &Printer) -> Vec<Area> {
    let line_mm = printer.line_width_mm;
    let skins = [printer.bottom_skins as usize, printer.top_skins as usize];
    let wall_mm = f64::from(printer.walls) * line_mm;
    match printer.infill < 1.0 {
        true => zones::sparse(faces, wall_mm, line_mm, skins),
        false => vec![Area::default(); faces.len()],
    }
}

/// The beads of one layer alone; `faces`: that layer, and those around it as far as skins reach, the first of them `first`.
pub fn beads_of_layer(
    faces: &[LayerFaces],
    first: usize,
    layer: usize,
    printer: &Printer,
) -> Option<LayerBeads> {
    let at = layer.checked_sub(first)?;
    let face = faces.get(at)?;
    let open = open_of(faces, printer);
    Some(layer_beads(face, layer, &open[at], printer))
}

fn layer_beads(face: &LayerFaces, index: usize, open: &Area, printer: &Printer) -> LayerBeads {
    let line_mm = printer.line_width_mm;
    let [z0, z1] = face.span_mm;
    let behind = face.section.offset(-0.75 * line_mm);
    let place = LayerPlace {
        behind: &behind,
        printer,
        layer: index,
        z_mm: 0.5 * (z0 + z1),
        sparse: open,
    };
    let border_mm = f64::from(printer.border_walls) * line_mm;
    let beside = |slot: u16| match border_mm > 0.0 && !open.is_empty() {
        true => {
            let others = face.slots.iter().filter(|(s, _)| *s != slot);
            Area::union(others.map(|(_, a)| a)).offset(border_mm)
        }
        false => Area::default(),
    };
    let slots = face.slots.iter();
    LayerBeads {
        span_mm: face.span_mm,
        slots: slots
            .map(|(slot, area)| place.beads(*slot as u8, area, &beside(*slot)))
            .collect(),
        brim: match index {
            0 => brim(&face.section, printer),
            _ => Vec::new(),
        },
        ground: match index {
            0 => face.section.clone(),
            _ => Area::default(),
        },
    }
}
