//! In which order spools are stacked, and how many layers of each.

use super::{Stacking, TABLE};
use crate::colour::{Colour, difference};
use rayon::prelude::*;
use std::cmp::Ordering;

/// A height at which places end, and what they look like.
#[derive(Debug, Clone, PartialEq)]
pub struct Tone {
    /// Layers from the bed up.
    pub layers: u32,
    /// The spool on top, by its number among those given.
    pub spool: usize,
    /// Its colour in linear light.
    pub linear: [f64; 3],
    /// The same, as it is shown.
    pub colour: Colour,
}

/// Spools in the order of their layers.
#[derive(Debug, Clone, PartialEq)]
pub struct Stack {
    /// The spools from the bed up, by their numbers among those given.
    pub order: Vec<usize>,
    /// For each of them its last layer, counted from 1.
    pub tops: Vec<u32>,
    /// The tones, from the lowest up.
    pub tones: Vec<Tone>,
    /// Mean CIEDE2000 difference of what was wanted to the nearest tone.
    pub mean: f64,
}

/// Beginnings of stacks that are followed up at a time: with up to three spools all of them.
const FOLLOWED: usize = 2000;

/// A layer that changes less than this (CIEDE2000) shows nothing new: the ones below are hidden.
const HIDDEN: f64 = 0.02;

/// The beginning of a stack.
#[derive(Clone)]
struct Begun {
    order: Vec<usize>,
    tops: Vec<u32>,
    /// Colour on top, in linear light.
    top: [f64; 3],
    /// For each wanted colour how far the nearest tone is.
    far: Vec<f64>,
    cost: f64,
}

/// The stack whose tones come nearest to wanted colours. `wanted`: in linear light, each with its weight.
///
/// # Cost
/// With up to three spools and a dozen layers every stack is tried; with more, the 2000 best beginnings are followed up.
pub fn best_stack(wanted: &[([f64; 3], f64)], stacking: &Stacking) -> Stack {
    let count = stacking.spools.len();
    let hides: Vec<_> = (0..count).map(|n| stacking.hiding(n)).collect();
    let scattering: Vec<f64> = hides
        .iter()
        .map(crate::colour::Hiding::scattering)
        .collect();
    let layer = |spool: usize, below: [f64; 3], mm: f64| {
        hides[spool].with_scattering(below, scattering[spool], mm)
    };
    let whole: f64 = wanted.iter().map(|w| w.1).sum::<f64>().max(1e-300);
    let nearer = |far: &mut [f64], top: [f64; 3]| {
        for (far, (colour, _)) in far.iter_mut().zip(wanted) {
            *far = far.min(difference(*colour, top));
        }
    };
    let cost = |far: &[f64]| -> f64 {
        let all = far.iter().zip(wanted);
        all.map(|(far, (_, weight))| far * weight).sum::<f64>() / whole
    };
    let first = |spool: usize| {
        let base_mm = stacking.top_mm(stacking.base_layers);
        let top = layer(spool, [TABLE; 3], base_mm);
        let mut far = vec![f64::INFINITY; wanted.len()];
        nearer(&mut far, top);
        Begun {
            order: vec![spool],
            tops: vec![stacking.base_layers],
            top,
            cost: cost(&far),
            far,
        }
    };
    let most = stacking.base_layers + stacking.most_layers;
    let mut begun: Vec<Begun> = match stacking.in_order {
        true => vec![first(0)],
        false => (0..count).map(first).collect(),
    };
    for placed in 1..count {
        // Every spool that follows needs a layer of its own.
        let last = most - (count - placed - 1) as u32;
        let followed = |begun: &Begun| {
            let mut out = Vec::new();
            let from = *begun.tops.last().unwrap_or(&0);
            for spool in 0..count {
                let is_next = if stacking.in_order {
                    spool == placed
                } else {
                    !begun.order.contains(&spool)
                };
                if !is_next {
                    continue;
                }
                let mut next = begun.clone();
                next.order.push(spool);
                next.tops.push(from);
                for top in from + 1..=last {
                    let colour = layer(spool, next.top, stacking.layer_mm);
                    let is_hidden = difference(colour, next.top) < HIDDEN;
                    if is_hidden && top > from + 1 {
                        break;
                    }
                    next.top = colour;
                    nearer(&mut next.far, colour);
                    next.cost = cost(&next.far);
                    next.tops[placed] = top;
                    out.push(next.clone());
                }
            }
            out
        };
        begun = begun.par_iter().flat_map_iter(followed).collect();
        begun.sort_by(better);
        begun.truncate(FOLLOWED);
    }
    let best = begun.into_iter().min_by(better);
    let Some(Begun {
        order, tops, cost, ..
    }) = best
    else {
        return Stack {
            order: Vec::new(),
            tops: Vec::new(),
            tones: Vec::new(),
            mean: 0.0,
        };
    };
    let mut tones = Vec::new();
    let mut top = [TABLE; 3];
    let mut layers = 0;
    for (spool, last) in order.iter().zip(&tops) {
        while layers < *last {
            let (next, mm) = match layers {
                0 => (stacking.base_layers, stacking.top_mm(stacking.base_layers)),
                n => (n + 1, stacking.layer_mm),
            };
            top = layer(*spool, top, mm);
            layers = next;
            tones.push(Tone {
                layers,
                spool: *spool,
                linear: top,
                colour: Colour::from_linear(top),
            });
        }
    }
    Stack {
        order,
        tops,
        tones,
        mean: cost,
    }
}

/// Nearer, then lower, then by number: the same input gives the same stack.
fn better(a: &Begun, b: &Begun) -> Ordering {
    let by_cost = a.cost.total_cmp(&b.cost);
    by_cost
        .then_with(|| a.tops.last().cmp(&b.tops.last()))
        .then_with(|| a.order.cmp(&b.order))
        .then_with(|| a.tops.cmp(&b.tops))
}
