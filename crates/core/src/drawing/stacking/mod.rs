//! Shades by stacking: a flat picture in a few spools, where thin layers over one another give more tones than spools.
//!
//! Every place is built of the same layers from the bed up and ends at a height of its own: what shows there is the colour of all
//! layers below, each of which hides what is under it a little more. So a picture of many tones needs no more swaps than it has spools
//! but one.

mod bodies;
mod order;
mod wedge;

pub use order::{Stack, Tone, best_stack};
pub use wedge::{Calibrated, WedgeStep, calibrated, wedge};

use super::picture::{NONE, SEEN, USUAL_MM, reduced};
use super::trace::{Grid, traced};
use super::{checked_width, stopped};
use crate::Problem;
use crate::colour::{Colour, Hiding, difference};
use crate::formats::Pixels;
use crate::limits::{STACK_BASE, STACK_LAYERS, STACK_MM};
use crate::shapes::Area;
use image::imageops::{FilterType, resize};
use image::{ImageBuffer, Rgba};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};

/// A spool that a picture is stacked of.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct StackSpool {
    /// What it is called.
    pub name: String,
    /// Its colour where it is thick.
    pub colour: Colour,
    /// How light 1 mm of it is on black, as a share of how light it is on white.
    pub opacity: f64,
}

/// How a picture is stacked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Stacking {
    /// The spools, 2 to 6.
    pub spools: Vec<StackSpool>,
    /// Whether they are stacked in this order, from the bed up; the best one is looked for otherwise.
    #[serde(default)]
    pub in_order: bool,
    /// Height of the first layer, mm.
    pub first_layer_mm: f64,
    /// Height of every other layer, mm.
    pub layer_mm: f64,
    /// Layers of the first spool, which lie everywhere.
    pub base_layers: u32,
    /// Layers above those at most.
    pub most_layers: u32,
}

/// Spools at least and at most.
const SPOOLS: std::ops::RangeInclusive<usize> = 2..=6;

/// What lies below the first layer reflects so much: the table it lies on.
const TABLE: f64 = 0.2;

impl Stacking {
    /// Whether it can be done.
    ///
    /// # Errors
    /// `stack-spools`, `stack-out-of-range`.
    pub fn check(&self) -> Result<(), Problem> {
        if !SPOOLS.contains(&self.spools.len()) {
            return Err(Problem::new(
                "stack-spools",
                "Shades are stacked of two to six spools",
                "spools",
                "Tick the spools that it is to be printed with.",
            ));
        }
        for (place, mm) in [
            ("first_layer_mm", self.first_layer_mm),
            ("layer_mm", self.layer_mm),
        ] {
            STACK_MM.check(mm, place, |v| format!("A layer cannot be {v} high"))?;
        }
        let base = f64::from(self.base_layers);
        STACK_BASE.check(base, "base_layers", |v| {
            format!("A base of {v} layers cannot be printed")
        })?;
        let most = f64::from(self.most_layers);
        STACK_LAYERS.check(most, "most_layers", |v| {
            format!("{v} layers cannot be stacked on it")
        })?;
        if (self.most_layers as usize) < self.spools.len() - 1 {
            return Err(Problem::new(
                "stack-out-of-range",
                format!(
                    "{} layers are too few for {} spools",
                    self.most_layers,
                    self.spools.len()
                ),
                "most_layers",
                "Give every spool one layer at least.",
            ));
        }
        Ok(())
    }

    fn hiding(&self, spool: usize) -> Hiding {
        let StackSpool {
            colour, opacity, ..
        } = self.spools[spool];
        Hiding { colour, opacity }
    }

    /// The top of so many layers, mm.
    pub fn top_mm(&self, layers: u32) -> f64 {
        match layers {
            0 => 0.0,
            n => self.first_layer_mm + f64::from(n - 1) * self.layer_mm,
        }
    }
}

/// A picture as it will be stacked.
pub struct Stacked {
    /// Which spool lies where, and what each height looks like.
    pub stack: Stack,
    /// Width and height, mm.
    pub size_mm: [f64; 2],
    /// Where each tone is, in the order of the tones.
    pub areas: Vec<Area>,
    /// Mean CIEDE2000 difference between the picture as it is wanted and as it is predicted.
    pub mean_difference: f64,
    /// Columns and rows of what follows.
    pub preview: [usize; 2],
    /// The picture, row by row from the top.
    pub wanted: Vec<Colour>,
    /// What is predicted, the same way.
    pub predicted: Vec<Colour>,
}

/// Finer than this no nozzle draws, mm: pixels are brought together to it.
const PIXEL_MM: f64 = 0.15;

/// Pixels of the preview at most, each way.
const PREVIEW: usize = 160;

/// Colours that stand for the picture while the order is looked for.
const STAND_FOR: usize = 32;

/// Stacks a picture.
///
/// `specks_mm2`: what is smaller is given to what is around it.
///
/// # Errors
/// What [`Stacking::check`] and [`Pixels::read`] say; `stopped`.
///
/// # Cost
/// Linear in pixels; for the order some thousand stacks are tried, each by the colours of its layers.
pub fn stacked(
    bytes: &[u8],
    width_mm: Option<f64>,
    specks_mm2: f64,
    stacking: &Stacking,
    progress: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Stacked, Problem> {
    stacking.check()?;
    let read = Pixels::read(bytes)?;
    let [w, h] = read.size.map(f64::from);
    let width = checked_width(width_mm, USUAL_MM * w / w.max(h))?;
    checked_width(Some(width * h / w), width * h / w)?;
    let go_on = |done: f64| {
        if progress(done) {
            Ok(())
        } else {
            Err(stopped())
        }
    };
    go_on(0.2)?;
    let most = ((width / PIXEL_MM).ceil() as u32).max(2);
    let (size, pixels) = brought_to(read, most);
    let (palette, labels) = reduced(&pixels, STAND_FOR, None);
    if palette.is_empty() {
        return Err(super::picture::transparent());
    }
    let mut weights = vec![0.0; palette.len()];
    labels
        .iter()
        .filter(|l| **l != NONE)
        .for_each(|l| weights[usize::from(*l)] += 1.0);
    let wanted: Vec<([f64; 3], f64)> = palette.iter().map(|c| c.linear()).zip(weights).collect();
    let stack = best_stack(&wanted, stacking);
    go_on(0.6)?;
    let table = Nearest::new(&stack);
    let labels: Vec<u8> = pixels
        .par_iter()
        .map(|p| if p[3] < SEEN { NONE } else { table.of(*p).0 })
        .collect();
    let seen: Vec<f64> = pixels
        .iter()
        .filter(|p| p[3] >= SEEN)
        .map(|p| table.of(*p).1)
        .collect();
    let mean_difference = seen.iter().sum::<f64>() / seen.len().max(1) as f64;
    let (preview, picked) = thumbnail(size);
    let colour = |at: &usize| match labels[*at] {
        NONE => Colour([255; 3]),
        tone => stack.tones[usize::from(tone)].colour,
    };
    let predicted = picked.iter().map(colour).collect();
    let original = |at: &usize| match pixels[*at] {
        [_, _, _, a] if a < SEEN => Colour([255; 3]),
        [r, g, b, _] => Colour([r, g, b]),
    };
    let wanted = picked.iter().map(original).collect();
    let pixel_mm = width / size[0] as f64;
    let specks = (specks_mm2.max(0.0) / (pixel_mm * pixel_mm)).ceil() as usize;
    let mut areas = traced(Grid { size, labels }, specks, 0.3, pixel_mm);
    areas.resize(stack.tones.len(), Area::default());
    go_on(0.95)?;
    Ok(Stacked {
        stack,
        size_mm: [width, pixel_mm * size[1] as f64],
        areas,
        mean_difference,
        preview,
        wanted,
        predicted,
    })
}

/// Pixels brought together until there are no more than so many across.
fn brought_to(read: Pixels, most: u32) -> ([usize; 2], Vec<[u8; 4]>) {
    let [w, h] = read.size;
    if w <= most {
        return ([w as usize, h as usize], read.pixels);
    }
    let rows = ((f64::from(h) * f64::from(most) / f64::from(w)).round() as u32).max(2);
    let raw: Vec<u8> = read.pixels.into_iter().flatten().collect();
    let Some(whole) = ImageBuffer::<Rgba<u8>, _>::from_raw(w, h, raw) else {
        return ([0, 0], Vec::new());
    };
    let small = resize(&whole, most, rows, FilterType::Triangle);
    let pixels = small.pixels().map(|p| p.0).collect();
    ([most as usize, rows as usize], pixels)
}

/// Columns and rows of a small picture, and which pixels stand in it.
fn thumbnail([w, h]: [usize; 2]) -> ([usize; 2], Vec<usize>) {
    let step = w.max(h).div_ceil(PREVIEW).max(1);
    let size = [w.div_ceil(step), h.div_ceil(step)];
    let picked = (0..size[1]).flat_map(|y| (0..size[0]).map(move |x| y * step * w + x * step));
    (size, picked.collect())
}

/// The nearest tone to every colour, by its upper five bits a channel.
struct Nearest {
    table: Vec<(u8, f64)>,
}

impl Nearest {
    fn new(stack: &Stack) -> Nearest {
        let of = |n: u32| {
            let channel = |shift: u32| (((n >> shift & 31) << 3) + 4) as u8;
            let colour = Colour([channel(10), channel(5), channel(0)]).linear();
            let far = |t: &Tone| difference(colour, t.linear);
            let all = stack.tones.iter().map(far).enumerate();
            let best = all.min_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or((0, 0.0));
            (best.0 as u8, best.1)
        };
        Nearest {
            table: (0..1u32 << 15).into_par_iter().map(of).collect(),
        }
    }

    fn of(&self, [r, g, b, _]: [u8; 4]) -> (u8, f64) {
        let part = |c: u8| usize::from(c >> 3);
        self.table[part(r) << 10 | part(g) << 5 | part(b)]
    }
}
