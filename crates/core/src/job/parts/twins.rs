//! Parts of the same shape, and the way from one to the other.

use crate::Problem;
use crate::geometry::{cross, dot, normalised, sub};
use crate::job::apply::refuse;
use crate::job::state::Job;
use crate::model::Place;
use crate::regions::congruent_parts;
use crate::solids::Plane;

/// A part of the same shape as another, with a frame on a facet of each.
pub(super) struct TwinPart {
    pub(super) model: usize,
    pub(super) part: usize,
    name: String,
    from: Frame,
    to: Frame,
}

/// A point with three directions across each other.
struct Frame {
    origin: [f64; 3],
    axes: [[f64; 3]; 3],
}

impl Frame {
    /// On a facet, from its first corner; its third direction is turned over for a mirrored one.
    fn on([a, b, c]: [[f64; 3]; 3], is_mirrored: bool) -> Option<Frame> {
        let x = normalised(sub(b, a))?;
        let z = normalised(cross(sub(b, a), sub(c, a)))?;
        let y = cross(z, x);
        let z = if is_mirrored { z.map(|v| -v) } else { z };
        Some(Frame {
            origin: a,
            axes: [x, y, z],
        })
    }
}

impl TwinPart {
    /// Where a direction of the original points on the twin.
    fn direction(&self, d: [f64; 3]) -> [f64; 3] {
        let along = self.from.axes.map(|a| dot(a, d));
        [0, 1, 2].map(|i| (0..3).map(|k| along[k] * self.to.axes[k][i]).sum())
    }

    /// Where a point of the original lies on the twin.
    fn point(&self, p: [f64; 3]) -> [f64; 3] {
        let d = self.direction(sub(p, self.from.origin));
        [0, 1, 2].map(|i| self.to.origin[i] + d[i])
    }

    /// The same place on the twin.
    pub(super) fn place(&self, at: &Place) -> Place {
        Place {
            model: self.name.clone(),
            point: self.point(at.point),
            normal: self.direction(at.normal),
        }
    }

    /// The same plane on the twin.
    pub(super) fn plane(&self, plane: &Plane) -> Plane {
        let normal = self.direction(plane.normal);
        let on = self.point(plane.normal.map(|c| c * plane.offset));
        Plane {
            normal,
            offset: dot(normal, on),
        }
    }
}

impl Job {
    /// Unlocked parts of the same shape as one.
    ///
    /// # Errors
    /// `alike-none` if there is none.
    pub(super) fn twins(&self, model: usize, part: usize) -> Result<Vec<TwinPart>, Problem> {
        let of = &self.models[model];
        let facets: Vec<u32> = (0..of.open.part_of.len() as u32)
            .filter(|f| of.open.part_of[*f as usize] == part as u32)
            .collect();
        // The largest facet carries the frame: it has the most certain directions.
        let areas = of.open.facet_areas();
        let largest = (0..facets.len())
            .max_by(|a, b| {
                areas[facets[*a] as usize]
                    .total_cmp(&areas[facets[*b] as usize])
                    .then(b.cmp(a))
            })
            .unwrap_or(0);
        let mut found = Vec::new();
        for (index, on) in self.models.iter().enumerate() {
            for twin in congruent_parts((&of.open, part as u32), &on.open, index == model) {
                if on.parts[twin.part as usize].is_locked {
                    continue;
                }
                let (facet, order) = twin.facets[largest];
                let corners = on.open.mesh.corners(facet);
                let corners = order.map(|k| corners[k as usize]);
                let frames = (
                    Frame::on(of.open.mesh.corners(facets[largest]), false),
                    Frame::on(corners, twin.is_mirrored),
                );
                if let (Some(from), Some(to)) = frames {
                    found.push(TwinPart {
                        model: index,
                        part: twin.part as usize,
                        name: on.name.clone(),
                        from,
                        to,
                    });
                }
            }
        }
        if found.is_empty() {
            let message = format!("No other part has the shape of {}", of.parts[part].name);
            let mend = "Do it on this part alone.";
            return Err(refuse("alike-none", message, "alike", mend));
        }
        Ok(found)
    }

    /// A part, and every part of the same shape if those are wanted too, each with the way to it; from the last to the
    /// first, so that replacing one leaves the numbers of those to come.
    pub(super) fn part_and_twins(
        &self,
        model: usize,
        part: usize,
        alike: bool,
    ) -> Result<Vec<(usize, usize, Option<TwinPart>)>, Problem> {
        let mut all = vec![(model, part, None)];
        if alike {
            let twins = self.twins(model, part)?;
            all.extend(twins.into_iter().map(|t| (t.model, t.part, Some(t))));
        }
        all.sort_by_key(|(m, p, _)| std::cmp::Reverse((*m, *p)));
        Ok(all)
    }

    /// A place, and the same one on every part of the same shape if those are wanted too.
    pub(super) fn with_twins(&self, at: &Place, alike: bool) -> Result<Vec<Place>, Problem> {
        let mut places = vec![at.clone()];
        if alike {
            let (model, part) = self.free_part_at(at)?;
            places.extend(self.twins(model, part)?.iter().map(|t| t.place(at)));
        }
        Ok(places)
    }

    /// How many other parts have the shape of the one at a place.
    pub fn count_alike(&self, at: &Place) -> Result<usize, Problem> {
        let (model, part) = self.part_at(at)?;
        Ok(self.twins(model, part).map_or(0, |t| t.len()))
    }
}
