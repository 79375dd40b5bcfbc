//! Where models stand: what each placing edit comes to as an affine map.

use super::edits::{Axis, Placing, Target};
use super::state::Job;
use crate::geometry::{Affine, Bounds, facet_normal};
use crate::model::Place;
use crate::{Problem, figure};

/// The parts that are placed: model and part numbers.
type Chosen = Vec<(usize, usize)>;

fn refuse(code: &str, message: impl Into<String>, place: &str, mend: &str) -> Problem {
    Problem::new(code, message, place, mend)
}

fn check(name: &str, value: f64, range: std::ops::RangeInclusive<f64>) -> Result<(), Problem> {
    if range.contains(&value) {
        return Ok(());
    }
    let message = format!("{} cannot be used here", figure(value));
    let mend = format!("Type a number from {} to {}.", range.start(), range.end());
    Err(refuse("placing-out-of-range", message, name, &mend))
}

impl Job {
    fn chosen(&self, target: &Target) -> Result<Chosen, Problem> {
        let parts = |m: usize| (0..self.models[m].parts.len()).map(move |p| (m, p));
        Ok(match target {
            Target::Everything => (0..self.models.len()).flat_map(parts).collect(),
            Target::Model { model } => parts(self.model_number(model)?).collect(),
            Target::Part { at } => vec![self.part_at(at)?],
        })
    }

    fn bounds_of(&self, chosen: &Chosen) -> Bounds {
        let mut all = Bounds::EMPTY;
        for (model, part) in chosen {
            all.join(&self.models[*model].open.parts[*part].measures.bounds);
        }
        all
    }

    /// Places parts anew. Nothing is changed if it is refused.
    pub(super) fn place(&mut self, target: &Target, placing: &Placing) -> Result<(), Problem> {
        let chosen = self.chosen(target)?;
        if matches!(target, Target::Part { .. }) {
            chosen
                .iter()
                .try_for_each(|(m, p)| self.check_free(*m, *p))?;
        }
        let map = match placing {
            Placing::Home => None,
            _ => Some(self.map_of(&chosen, placing)?),
        };
        let mut placed: Vec<(usize, Vec<Affine>)> = Vec::new();
        for (model, part) in &chosen {
            if placed.last().is_none_or(|(m, _)| m != model) {
                let maps = self.models[*model].parts.iter().map(|p| p.map);
                placed.push((*model, maps.collect()));
            }
            if let Some((_, maps)) = placed.last_mut() {
                maps[*part] = match &map {
                    Some(map) => maps[*part].then(map),
                    None => Affine::IDENTITY,
                };
            }
        }
        self.set_maps(placed)
    }

    /// Gives models new maps of their parts, if everything stays of a size that can be worked with.
    pub(super) fn set_maps(&mut self, placed: Vec<(usize, Vec<Affine>)>) -> Result<(), Problem> {
        const LARGEST_MM: f64 = 1.0e5;
        const SMALLEST_MM: f64 = 1.0e-3;
        let mut meshes = Vec::new();
        for (model, maps) in &placed {
            let open = self.models[*model].mesh_placed(maps);
            let bounds = open.bounds();
            let far = bounds.min.iter().chain(&bounds.max).map(|c| c.abs());
            let far = far.fold(0.0f64, f64::max);
            let widest = bounds.size().into_iter().fold(0.0f64, f64::max);
            if !far.is_finite() || far > LARGEST_MM || widest < SMALLEST_MM {
                return Err(refuse(
                    "placing-too-far",
                    "The model would be too large, too small or too far away to work with",
                    "",
                    "Choose a size between a thousandth of a millimetre and a hundred metres.",
                ));
            }
            meshes.push(open);
        }
        for ((model, maps), open) in placed.into_iter().zip(meshes) {
            let model = &mut self.models[model];
            model.open = open;
            for (part, map) in model.parts.iter_mut().zip(maps) {
                let from = std::mem::replace(&mut part.map, map);
                part.move_spans(&from, &map);
            }
        }
        Ok(())
    }

    fn map_of(&self, chosen: &Chosen, placing: &Placing) -> Result<Affine, Problem> {
        let bounds = self.bounds_of(chosen);
        let middle = bounds.centre();
        let foot = [middle[0], middle[1], bounds.min[2]];
        Ok(match placing {
            Placing::Move { by_mm } => {
                for value in by_mm {
                    check("by_mm", *value, -1e5..=1e5)?;
                }
                Affine::shift(*by_mm)
            }
            Placing::Turn { axis, degrees } => {
                check("degrees", *degrees, -3600.0..=3600.0)?;
                let turn = exact_turn(*axis, *degrees).about(middle);
                self.back_on_foot(chosen, &turn, bounds.min[2])
            }
            Placing::Stretch { factors } => {
                for factor in factors {
                    check("factors", *factor, 1e-4..=1e4)?;
                }
                Affine::scale(*factors).about(foot)
            }
            Placing::Size { axis, mm, alone } => {
                check("mm", *mm, 1e-3..=1e5)?;
                let now = bounds.size()[axis.index()];
                if now <= 0.0 {
                    return Err(refuse(
                        "placing-flat",
                        "The model has no extent along this axis",
                        "axis",
                        "Type the size of another axis.",
                    ));
                }
                let factor = mm / now;
                let mut factors = if *alone { [1.0; 3] } else { [factor; 3] };
                factors[axis.index()] = factor;
                Affine::scale(factors).about(foot)
            }
            Placing::Mirror { axis } => {
                let mut factors = [1.0; 3];
                factors[axis.index()] = -1.0;
                Affine::scale(factors).about(middle)
            }
            Placing::FaceDown { at } => self.facing(chosen, at, [0.0, 0.0, -1.0])?,
            Placing::FaceUp { at } => self.facing(chosen, at, [0.0, 0.0, 1.0])?,
            Placing::Centre => Affine::shift([-middle[0], -middle[1], 0.0]),
            Placing::Drop => Affine::shift([0.0, 0.0, -bounds.min[2]]),
            Placing::CentreOn { other } => {
                let onto = self.bounds_of(&self.chosen(other)?).centre();
                Affine::shift([onto[0] - middle[0], onto[1] - middle[1], 0.0])
            }
            Placing::Home => Affine::IDENTITY,
        })
    }

    fn facing(&self, chosen: &Chosen, at: &Place, way: [f64; 3]) -> Result<Affine, Problem> {
        let (model, facet) = self.find(at)?;
        let corners = self.models[model].open.mesh.corners(facet);
        let normal = facet_normal(&corners).ok_or_else(|| {
            refuse(
                "placing-no-direction",
                "This facet has no area, so it faces nowhere",
                "at.point",
                "Choose a larger facet beside it.",
            )
        })?;
        let bounds = self.bounds_of(chosen);
        let turn = Affine::turn_onto(normal, way).about(bounds.centre());
        Ok(self.back_on_foot(chosen, &turn, bounds.min[2]))
    }

    /// A turn followed by the move that brings the lowest point back to the height it had.
    fn back_on_foot(&self, chosen: &Chosen, turn: &Affine, foot: f64) -> Affine {
        let mut low = f64::INFINITY;
        for (model, part) in chosen {
            let open = &self.models[*model].open;
            for (facet, of) in open.mesh.facets.iter().zip(open.part_of.iter()) {
                if *of as usize == *part {
                    for v in facet {
                        low = low.min(turn.apply(open.mesh.vertices[*v as usize])[2]);
                    }
                }
            }
        }
        if !low.is_finite() {
            return *turn;
        }
        turn.then(&Affine::shift([0.0, 0.0, foot - low]))
    }
}

/// A turn about an axis; quarter turns without rounding.
fn exact_turn(axis: Axis, degrees: f64) -> Affine {
    let quarters = degrees / 90.0;
    let mut turn = Affine::turn(axis.unit(), degrees.to_radians());
    if quarters.fract() == 0.0 {
        for value in turn.0.iter_mut().flatten() {
            *value = value.round();
        }
    }
    turn
}
