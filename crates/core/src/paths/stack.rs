//! All beads of a print, layer by layer, for one piece.

use super::bead::Bead;
use super::bridge::is_spanned;
use super::edges::brim;
use super::layer::{LayerPlace, SlotBeads};
use super::support::supports;
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
    /// All of it.
    pub section: Area,
    /// What of it hangs over nothing, and is neither bridged nor held up, mm².
    pub hanging_mm2: f64,
    /// Beads that hold up what hangs further up.
    pub supports: Vec<Bead>,
    /// What those cover.
    pub propped: Area,
    /// Where a nozzle may travel over what is printed: a little further in than the outline.
    pub inside: Area,
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
    let props = supports(faces, printer);
    let (stopped, done) = (AtomicBool::new(false), AtomicUsize::new(0));
    let of_layer = |(index, face): (usize, &LayerFaces)| {
        if stopped.load(Ordering::Relaxed) {
            return LayerBeads::default();
        }
        let around = Around::of(faces, index, &open[index]);
        let mut found = layer_beads(face, index, &around, printer);
        if let Some(prop) = props.get(index) {
            found.supports = prop.beads(index, printer);
            found.propped = prop.all.clone();
            // What is held has a gap below it.
            let gap = 1 + printer.printing.support_gap_layers as usize;
            if index >= gap && !props[index - gap].all.is_empty() {
                found.hanging_mm2 = 0.0;
            }
        }
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
    let around = Around::of(faces, at, &open[at]);
    Some(layer_beads(face, layer, &around, printer))
}

/// How far in from the outline travel stays, in lines: walls are laid half a line in.
pub(super) const INSIDE_LINES: f64 = 0.3;

/// What a layer lies between.
struct Around<'a> {
    /// What of it is sparse.
    open: &'a Area,
    /// The layer that it lies on, and the one that lies on it.
    below: Option<&'a Area>,
    above: Option<&'a Area>,
}

impl<'a> Around<'a> {
    fn of(faces: &'a [LayerFaces], index: usize, open: &'a Area) -> Around<'a> {
        Around {
            open,
            below: index.checked_sub(1).map(|i| &faces[i].section),
            above: faces.get(index + 1).map(|f| &f.section),
        }
    }

    /// What nothing lies on, if it is to be smoothed.
    fn top(&self, section: &Area, printer: &Printer) -> Area {
        match printer.printing.smooth_tops {
            true => section.minus(self.above.unwrap_or(&Area::default())),
            false => Area::default(),
        }
    }
}

fn layer_beads(
    face: &LayerFaces,
    index: usize,
    around: &Around<'_>,
    printer: &Printer,
) -> LayerBeads {
    let top = around.top(&face.section, printer);
    match index {
        0 => first_layer_beads(face, (around.open, &top), printer),
        _ => {
            let hanging = around.below.map(|b| hanging(&face.section, b, printer));
            let hanging = hanging.unwrap_or_default();
            of_layer(face, index, [around.open, &hanging, &top], printer)
        }
    }
}

/// What of a layer lies over nothing that would hold it.
fn hanging(section: &Area, below: &Area, printer: &Printer) -> Area {
    let line_mm = printer.line_width_mm;
    // Half a line may stick out, and what is narrower than a wall hangs on to its neighbour.
    let out = section.minus(&below.offset(0.5 * line_mm));
    const LEAST_MM2: f64 = 2.0;
    out.opened(0.75 * line_mm).without_specks(LEAST_MM2)
}

/// The first layer: drawn in along its outline, its lines as wide as asked.
fn first_layer_beads(
    face: &LayerFaces,
    (open, top): (&Area, &Area),
    printer: &Printer,
) -> LayerBeads {
    let printing = &printer.printing;
    let wide = Printer {
        line_width_mm: printer.line_width_mm * printing.first_layer_width,
        ..printer.clone()
    };
    let drawn_in = (printing.foot_mm > 0.0).then(|| {
        let section = face.section.offset(-printing.foot_mm);
        let slots = face.slots.iter();
        LayerFaces {
            span_mm: face.span_mm,
            slots: slots.map(|(s, a)| (*s, a.and(&section))).collect(),
            section,
        }
    });
    let face = drawn_in.as_ref().unwrap_or(face);
    LayerBeads {
        brim: brim(&face.section, printer),
        ..of_layer(face, 0, [open, &Area::default(), top], &wide)
    }
}

/// What of all that hangs reaches no hold on its other side, so that it cannot be bridged, mm².
fn loose_mm2(hanging: &Area, held: &Area, line_mm: f64) -> f64 {
    let islands = hanging.clone().islands();
    let loose = islands.iter().filter(|i| !is_spanned(i, held, line_mm));
    loose.map(Area::mm2).sum()
}

fn of_layer(
    face: &LayerFaces,
    index: usize,
    [open, hanging, top]: [&Area; 3],
    printer: &Printer,
) -> LayerBeads {
    let line_mm = printer.line_width_mm;
    let [z0, z1] = face.span_mm;
    let behind = face.section.offset(-0.75 * line_mm);
    let held = match hanging.is_empty() {
        true => Area::default(),
        false => face.section.minus(hanging),
    };
    let place = LayerPlace {
        behind: &behind,
        printer,
        layer: index,
        z_mm: 0.5 * (z0 + z1),
        sparse: open,
        hanging,
        held: &held,
        top,
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
            .map(|(slot, area)| place.beads(*slot, area, &beside(*slot)))
            .collect(),
        brim: Vec::new(),
        hanging_mm2: loose_mm2(hanging, &held, line_mm),
        supports: Vec::new(),
        propped: Area::default(),
        inside: face.section.offset(-INSIDE_LINES * line_mm),
        section: face.section.clone(),
    }
}
