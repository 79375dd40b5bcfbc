//! Whose surface is nearest deep inside: for regions that go right through.
//!
//! The survey looks only as deep as colours soak. What lies deeper is nobody's but the body's own, unless a region goes right
//! through; then the nearest surface counts at any distance. Squares of the layer's grid are asked for as a whole: if no surface
//! of another region can be nearer than the nearest anywhere in it, the square is done, else it is quartered.
//!
//! It depends on the surface alone, not on how deep regions go: so all depths are compared over one look.

mod look;
mod on_face;
mod painted_body;

use super::feet::Feet;
use super::label::Claims;
use super::survey::{BodyLayer, Run, Survey};
use super::surveying::Stopped;
pub(super) use painted_body::PaintedBody;
use rayon::prelude::*;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

/// Whose surface is nearest, deep inside every layer.
#[derive(Clone)]
pub struct Deep {
    layers: Vec<Vec<DeepLayer>>,
    /// By body, what is raised on it; none if it is not painted.
    feet: Vec<Option<Arc<Feet>>>,
}

/// The same for one body in one layer.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct DeepLayer {
    /// How far off surface can be that matters here, mm.
    reach_mm: f64,
    pub(super) held: DeepHeld,
}

/// What of a body lies deep in a layer.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum DeepHeld {
    /// To all of it surface of this region is nearest.
    Whole(u16),
    /// Several share it.
    Shared {
        /// The core, by region.
        core: Vec<(u16, Vec<Run>)>,
        /// By cell without a facet, in the order of the layer's cells.
        cells: Vec<u16>,
    },
}

impl DeepLayer {
    /// All of one region, whose surface is all there is: any other would matter.
    fn whole(region: u16) -> DeepLayer {
        DeepLayer {
            reach_mm: f64::INFINITY,
            held: DeepHeld::Whole(region),
        }
    }
}

impl Deep {
    /// Looks deep inside all layers.
    ///
    /// # Cost
    /// Linear in the facets of bodies that are painted; for each layer a search for each square, and for each cell along the borders
    /// of what is nearest to different regions.
    ///
    /// # Errors
    /// [`Stopped`] if `go_on` said so.
    pub fn look(
        survey: &Survey,
        claims: &Claims<'_>,
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<Deep, Stopped> {
        let of_bodies = |bodies: &Vec<BodyLayer>| {
            let own = bodies.iter().map(|b| claims.own[b.body as usize]);
            own.map(DeepLayer::whole).collect()
        };
        let mut deep = Deep {
            layers: survey.layers.iter().map(of_bodies).collect(),
            feet: vec![None; survey.bodies.len()],
        };
        deep.look_where(survey, claims, &|_, _| true, go_on)?;
        Ok(deep)
    }

    /// Looks again where surface between two heights of the print may have been the nearest, or may be now. Returns for each layer
    /// whether that is something else than before.
    ///
    /// # Errors
    /// [`Stopped`] if `go_on` said so: what was found is of no use then.
    pub fn look_between(
        &mut self,
        survey: &Survey,
        claims: &Claims<'_>,
        (low, high): (f64, f64),
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<Vec<bool>, Stopped> {
        /// Layers so near are looked at whatever they hold: half a layer is less.
        const MARGIN_MM: f64 = 1.0;
        let is_near = |layer: usize, reach_mm: f64| {
            let z = survey.heights.middle(layer);
            z >= low - reach_mm - MARGIN_MM && z <= high + reach_mm + MARGIN_MM
        };
        self.look_where(survey, claims, &is_near, go_on)
    }

    fn look_where(
        &mut self,
        survey: &Survey,
        claims: &Claims<'_>,
        is_due: &(dyn Fn(usize, f64) -> bool + Sync),
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<Vec<bool>, Stopped> {
        let mut is_changed = vec![false; self.layers.len()];
        // By body, the layers that are to be looked at, each with its place in them.
        let mut due: Vec<Vec<(usize, usize)>> = vec![Vec::new(); survey.bodies.len()];
        for (layer, (here, deep)) in survey.layers.iter().zip(&self.layers).enumerate() {
            for (at, (body, deep)) in here.iter().zip(deep).enumerate() {
                if is_due(layer, deep.reach_mm) {
                    due[body.body as usize].push((layer, at));
                }
            }
        }
        for (number, due) in due.into_iter().enumerate().filter(|(_, d)| !d.is_empty()) {
            let painted = PaintedBody::of(survey, claims, number);
            self.feet[number] = painted.as_ref().map(|g| g.feet.clone());
            let stopped = AtomicBool::new(false);
            let look = |plane: &mut Vec<u32>, (layer, at): (usize, usize)| {
                if !go_on() {
                    stopped.store(true, Ordering::Relaxed);
                }
                let found = match &painted {
                    Some(painted) if !stopped.load(Ordering::Relaxed) => {
                        painted.layer(layer, &survey.layers[layer][at], plane)
                    }
                    _ => DeepLayer::whole(claims.own[number]),
                };
                (layer, at, found)
            };
            let found: Vec<_> = due.into_par_iter().map_init(Vec::new, look).collect();
            if stopped.into_inner() {
                return Err(Stopped);
            }
            for (layer, at, found) in found {
                is_changed[layer] |= found.held != self.layers[layer][at].held;
                self.layers[layer][at] = found;
            }
        }
        Ok(is_changed)
    }

    /// What is raised on a body; none if it is not painted.
    pub(super) fn feet(&self, body: usize) -> Option<&Feet> {
        self.feet[body].as_deref()
    }

    pub(super) fn of(&self, layer: usize, body: usize) -> &DeepHeld {
        &self.layers[layer][body].held
    }
}
