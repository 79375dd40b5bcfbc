//! What is drawn by hand or typed takes: strokes, single facets, bands, outlines.

use super::apply::refuse;
use super::colouring::Taken;
use super::edits::{BandDepth, GiveEdit};
use super::parts::stopped;
use super::state::Job;
use crate::carve::{Cutting, Field, Held, Label, TOLERANCE_MM, cut};
use crate::layers::LayerHeights;
use crate::limits::{BANDS, RADIUS};
use crate::model::Place;
use crate::regions::{BandField, LassoError, LassoField, PathField, Reach, Sight, Stroke};
use crate::{Problem, figure};

/// Whether to go on: false stops an edit.
pub(super) type Ask<'a> = &'a dyn Fn() -> bool;

impl Job {
    pub(super) fn stroke(
        &self,
        model: usize,
        stroke: &Stroke,
        reach: Reach,
        to: Option<u16>,
        go_on: Ask<'_>,
    ) -> Result<Vec<(u32, Held)>, Problem> {
        const MOST_POINTS: usize = 20_000;
        let radius = stroke.radius_mm;
        RADIUS.check(radius, "radius_mm", |radius| {
            format!("A stroke of {radius} radius cannot be drawn")
        })?;
        if stroke.path.is_empty() || stroke.path.len() > MOST_POINTS {
            let message = format!("A stroke of {} points cannot be drawn", stroke.path.len());
            let mend = "Draw it in shorter strokes.";
            return Err(refuse("stroke-length", message, "path", mend));
        }
        let numbers = stroke.path.iter().flatten().chain(&stroke.eye);
        if numbers.into_iter().any(|c| !c.is_finite()) {
            let message = "The stroke is not made of usable numbers";
            return Err(refuse(
                "stroke-not-a-number",
                message,
                "path",
                "Draw it again.",
            ));
        }
        let m = &self.models[model];
        let field = PathField::along(&stroke.path, radius);
        let facets = stroke.facets(&m.open, &field, reach);
        if facets.is_empty() {
            let [x, y, z] = stroke.path[0];
            let name = &stroke.model;
            let message = format!(
                "The stroke at {x:.2}, {y:.2}, {z:.2} mm does not lie on the surface of {name}"
            );
            let mend = "Draw on the model.";
            return Err(refuse("stroke-off-the-mesh", message, "path", mend));
        }
        self.cut_along(model, &field, &facets, to, go_on)
    }

    fn cut_along(
        &self,
        model: usize,
        field: &dyn Field,
        facets: &[u32],
        to: Option<u16>,
        go_on: Ask<'_>,
    ) -> Result<Vec<(u32, Held)>, Problem> {
        self.cut_along_where(model, field, facets, to, &|_| true, go_on)
    }

    /// Gives what a field takes, where the region it belongs to now is one to be taken from.
    pub(super) fn cut_along_where(
        &self,
        model: usize,
        field: &dyn Field,
        facets: &[u32],
        to: Option<u16>,
        takes: &dyn Fn(u16) -> bool,
        go_on: Ask<'_>,
    ) -> Result<Vec<(u32, Held)>, Problem> {
        let m = &self.models[model];
        let cutting = Cutting {
            open: &m.open,
            labels: &m.labels,
            field,
            tolerance_mm: TOLERANCE_MM,
            go_on,
        };
        let paint = |f: u32, _: [f64; 3], l: Label| {
            if takes(self.region_of_label(model, f, l)) {
                self.given(model, f, l, to)
            } else {
                l
            }
        };
        cut(&cutting, facets, &paint).ok_or_else(stopped)
    }

    pub(super) fn single_facets(
        &self,
        at: &[Place],
        flat: bool,
        to: Option<u16>,
    ) -> Result<Vec<Taken>, Problem> {
        // A turn that no eye sees: facets of one flat face.
        const FLAT_DEG: f64 = 0.5;
        if at.is_empty() {
            let message = "No facet is named";
            return Err(refuse("facets-none", message, "at", "Click on a facet."));
        }
        let mut chosen: Vec<Vec<u32>> = vec![Vec::new(); self.models.len()];
        for place in at {
            let (model, facet) = self.find(place)?;
            if flat {
                let open = &self.models[model].open;
                let face = open.creases().flood(&open.topology, facet, FLAT_DEG);
                chosen[model].extend(face);
            } else {
                chosen[model].push(facet);
            }
        }
        let taken = chosen.into_iter().enumerate().map(|(model, mut facets)| {
            facets.sort_unstable();
            facets.dedup();
            Taken {
                model,
                changes: self.give_facets(model, &facets, to),
            }
        });
        Ok(taken.collect())
    }

    /// Heights of the bands of an edit, above the bed: snapped to layers if it says so.
    pub fn band_heights(&self, edit: &GiveEdit) -> Result<Vec<(f64, f64)>, Problem> {
        let GiveEdit::GiveBand {
            low_mm,
            high_mm,
            snap,
            count,
            pitch_mm,
            ..
        } = edit
        else {
            return Ok(Vec::new());
        };
        let (low, high) = (low_mm.min(*high_mm), low_mm.max(*high_mm));
        let tall = self.bounds().size()[2];
        if !(high - low).is_finite() || high - low < 1e-3 {
            let message = "The band has no height";
            let mend = "Type two different heights.";
            return Err(refuse("band-empty", message, "high_mm", mend));
        }
        BANDS.check(f64::from(*count), "count", |count| {
            format!("{count} bands cannot be stacked")
        })?;
        if *count > 1 && *pitch_mm < high - low {
            let message = format!(
                "Bands of {} mm at a pitch of {} mm run into each other",
                figure(high - low),
                figure(*pitch_mm)
            );
            let mend = "Type a pitch larger than the height of a band.";
            return Err(refuse("band-pitch", message, "pitch_mm", mend));
        }
        if low >= tall || high <= 0.0 {
            let message = format!(
                "The band from {} to {} mm misses the model, which is {tall:.2} mm tall",
                figure(low),
                figure(high)
            );
            let mend = "Type heights above the bed, in mm.";
            return Err(refuse("band-outside", message, "low_mm", mend));
        }
        let p = &self.printer;
        let layers = LayerHeights::new(tall + p.layer_mm, p.first_layer_mm, p.layer_mm);
        let bands = (0..*count).map(|n| {
            let lift = f64::from(n) * pitch_mm;
            let (low, high) = (low + lift, high + lift);
            if *snap {
                layers.snapped(low, high)
            } else {
                (low, high)
            }
        });
        let mut bands: Vec<(f64, f64)> = bands.filter(|b| b.0 < tall).collect();
        // Snapped bands may have come to touch.
        bands.dedup_by(|next, band| {
            let touches = next.0 <= band.1 + 1e-9;
            if touches {
                band.1 = band.1.max(next.1);
            }
            touches
        });
        Ok(bands)
    }

    pub(super) fn bands(
        &self,
        edit: &GiveEdit,
        to: Option<u16>,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        let GiveEdit::GiveBand {
            at, only, depth, ..
        } = edit
        else {
            return Ok(Vec::new());
        };
        let only = only.as_ref().map(|r| self.number(r)).transpose()?;
        let heights = self.band_heights(edit)?;
        if *depth == BandDepth::Inside {
            return Ok(Vec::new());
        }
        self.take_bands(&heights, (None, at.as_ref()), only, to, go_on)
    }

    /// The surface between some heights above the bed: of one model or the part at a place, and of one region's surface, or of all.
    pub(super) fn take_bands(
        &self,
        heights: &[(f64, f64)],
        (model_only, at): (Option<usize>, Option<&Place>),
        only: Option<u16>,
        to: Option<u16>,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        let foot = self.bounds().min[2];
        let field = BandField::new(heights.iter().map(|b| (b.0 + foot, b.1 + foot)).collect());
        let on = at.map(|at| self.find(at)).transpose()?;
        let models = 0..self.models.len();
        let taken = models.map(|model| {
            if model_only.is_some_and(|of| of != model) {
                return Ok(None);
            }
            let open = &self.models[model].open;
            let part = match on {
                Some((of, _)) if of != model => return Ok(None),
                Some((_, facet)) => Some(open.part_of[facet as usize]),
                None => None,
            };
            let facets = field.facets(open, part);
            let takes = |now| only.is_none_or(|only| only == now);
            let changes = self.cut_along_where(model, &field, &facets, to, &takes, go_on)?;
            Ok(Some(Taken { model, changes }))
        });
        let taken: Vec<Option<Taken>> = taken.collect::<Result<_, Problem>>()?;
        Ok(taken.into_iter().flatten().collect())
    }

    pub(super) fn lasso(
        &self,
        outline: &[[f64; 2]],
        sight: &Sight,
        through: bool,
        to: Option<u16>,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        const MOST_CORNERS: usize = 4000;
        let is_usable = outline.len() <= MOST_CORNERS
            && outline
                .iter()
                .flatten()
                .chain(&sight.eye)
                .all(|c| c.is_finite());
        let field = if is_usable {
            LassoField::new(sight, outline)
        } else {
            Err(LassoError::View)
        };
        let field = field.map_err(|e| {
            let (code, mend) = match e {
                LassoError::Empty => ("lasso-empty", "Draw around some surface."),
                LassoError::CrossesItself => {
                    ("lasso-crosses-itself", "Draw it again without a loop.")
                }
                LassoError::View => ("lasso-view", "Draw it again."),
            };
            let mut message = e.to_string();
            message[..1].make_ascii_uppercase();
            refuse(code, message, "outline", mend)
        })?;
        let taken = self.models.iter().enumerate().map(|(model, m)| {
            let facets = field.facets(&m.open, through);
            let changes = self.cut_along(model, &field, &facets, to, go_on)?;
            Ok(Taken { model, changes })
        });
        taken.collect()
    }
}
