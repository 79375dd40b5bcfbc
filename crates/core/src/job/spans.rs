//! Heights at which the inside of a part is another region's than the part's own: bands right through, and changes at a layer.

use super::apply::refuse;
use super::colouring::Taken;
use super::depth::SoakDepth;
use super::drawn::Ask;
use super::edits::{BandDepth, GiveEdit};
use super::state::{Job, JobPart};
use crate::geometry::Affine;
use crate::layers::{LayerHeights, Span};
use crate::{Problem, figure};
use serde::{Deserialize, Serialize};

/// Heights of a part whose inside is another region's, where the part stands now.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct PartSpan {
    /// The lower, mm.
    pub low_mm: f64,
    /// The higher; infinite if it is open above.
    pub high_mm: f64,
    /// Number of the region.
    pub own: u16,
    /// Whether it reaches the surface, as if the part were cut at both heights.
    pub cuts: bool,
}

impl JobPart {
    /// Gives the inside between two heights to a region, or takes it back to the part's own.
    fn give_span(&mut self, low_mm: f64, high_mm: f64, own: Option<u16>, cuts: bool) {
        let mut spans = Vec::with_capacity(self.spans.len() + 2);
        for span in &self.spans {
            for (low, high) in [
                (span.low_mm, span.high_mm.min(low_mm)),
                (span.low_mm.max(high_mm), span.high_mm),
            ] {
                if low < high {
                    spans.push(PartSpan {
                        low_mm: low,
                        high_mm: high,
                        ..*span
                    });
                }
            }
        }
        spans.extend(own.map(|own| PartSpan {
            low_mm,
            high_mm,
            own,
            cuts,
        }));
        spans.sort_by(|a, b| a.low_mm.total_cmp(&b.low_mm));
        // What goes on as it was is one.
        spans.dedup_by(|next, span| {
            let goes_on =
                span.high_mm == next.low_mm && span.own == next.own && span.cuts == next.cuts;
            if goes_on {
                span.high_mm = next.high_mm;
            }
            goes_on
        });
        self.spans = spans;
    }

    /// The spans where the part is moved from one place to another. They stay level or go: heights of what was tilted say nothing.
    pub(super) fn move_spans(&mut self, from: &Affine, to: &Affine) {
        if self.spans.is_empty() || from == to {
            return;
        }
        let map = from.inverse().then(to);
        let height = |x: f64, y: f64, z: f64| map.apply([x, y, z])[2];
        let zero = height(0.0, 0.0, 0.0);
        let slope = height(0.0, 0.0, 1.0) - zero;
        let tilt = [height(1.0, 0.0, 0.0) - zero, height(0.0, 1.0, 0.0) - zero];
        if tilt.iter().any(|t| t.abs() > 1e-9) || slope == 0.0 {
            self.spans.clear();
            return;
        }
        for span in &mut self.spans {
            let ends = [span.low_mm, span.high_mm].map(|z| zero + slope * z);
            (span.low_mm, span.high_mm) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
        }
        self.spans.sort_by(|a, b| a.low_mm.total_cmp(&b.low_mm));
    }

    /// The spans as layers know them, for a part that is shifted to stand on the bed.
    pub(crate) fn spans_on_bed(&self, shift: f64) -> Vec<Span> {
        let on_bed = |span: &PartSpan| Span {
            low_mm: span.low_mm + shift,
            high_mm: span.high_mm + shift,
            own: span.own,
            cuts: span.cuts,
        };
        self.spans.iter().map(on_bed).collect()
    }
}

impl Job {
    /// Borders of the layers above the bed, as far as what is printed reaches.
    fn layer_borders(&self) -> LayerHeights {
        let p = &self.printer;
        let tall = self.bounds().size()[2];
        LayerHeights::new(tall + p.layer_mm, p.first_layer_mm, p.layer_mm)
    }

    /// Height above the bed at which a change of an edit begins: the border of layers nearest to what was typed.
    ///
    /// # Errors
    /// `change-outside` if nothing is printed above it, or nothing below.
    pub fn change_height(&self, from_mm: f64) -> Result<f64, Problem> {
        let tall = self.bounds().size()[2];
        let layers = self.layer_borders();
        let border = layers.snapped(from_mm, from_mm + self.printer.layer_mm).0;
        if from_mm.is_finite() && border > 0.0 && border < tall && from_mm < tall {
            return Ok(border);
        }
        let message = format!(
            "A change from {} mm on changes nothing: the print is {tall:.2} mm tall",
            figure(from_mm)
        );
        let mend = "Choose a layer above the first and below the top.";
        Err(refuse("change-outside", message, "from_mm", mend))
    }

    /// The parts that an edit right through is of: those at its place, of its model, or all; locked ones only if they are named.
    fn parts_through(&self, edit: &GiveEdit) -> Result<Vec<(usize, usize)>, Problem> {
        let (at, model) = match edit {
            GiveEdit::GiveBand { at, .. } => (at, None),
            GiveEdit::GiveChange { at, model, .. } => (at, model.as_ref()),
            _ => return Ok(Vec::new()),
        };
        if let Some(at) = at {
            return Ok(vec![self.free_part_at(at)?]);
        }
        let only = model.map(|name| self.model_number(name)).transpose()?;
        let all = self.models.iter().enumerate();
        let of_model = all.filter(|(m, _)| only.is_none_or(|o| o == *m));
        let free = of_model.flat_map(|(m, model)| {
            let parts = model.parts.iter().enumerate();
            parts
                .filter(|(_, p)| !p.is_locked)
                .map(move |(p, _)| (m, p))
        });
        Ok(free.collect())
    }

    /// Heights of an edit that goes right through, above the bed.
    fn heights_through(&self, edit: &GiveEdit) -> Result<Vec<(f64, f64)>, Problem> {
        match edit {
            GiveEdit::GiveChange { from_mm, .. } => {
                Ok(vec![(self.change_height(*from_mm)?, f64::INFINITY)])
            }
            _ => self.band_heights(edit),
        }
    }

    /// Gives the inside of parts as an edit says that goes right through; its surface is given by [`Job::taken`].
    ///
    /// # Errors
    /// `through-open` if a part is not closed; what the edit itself is refused for.
    pub(super) fn give_through(&mut self, edit: &GiveEdit) -> Result<(), Problem> {
        let cuts = match edit {
            GiveEdit::GiveBand { depth, .. } => match depth {
                BandDepth::Skin => return Ok(()),
                BandDepth::Through => true,
                BandDepth::Inside => false,
            },
            GiveEdit::GiveChange { .. } => true,
            _ => return Ok(()),
        };
        let to = edit.region().map(|r| self.taker(r)).transpose()?.flatten();
        let parts = self.parts_through(edit)?;
        let foot = self.bounds().min[2];
        let heights = self.heights_through(edit)?;
        self.check_closed_where(|at| parts.contains(&at))?;
        for (m, p) in parts {
            let part = &mut self.models[m].parts[p];
            let own = to.filter(|to| *to != part.own);
            for (low, high) in &heights {
                part.give_span(low + foot, high + foot, own, cuts);
            }
        }
        Ok(())
    }

    /// The surface that a change at a layer gives.
    pub(super) fn change_taken(
        &self,
        edit: &GiveEdit,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        let GiveEdit::GiveChange {
            region,
            from_mm,
            model,
            at,
        } = edit
        else {
            return Ok(Vec::new());
        };
        let to = self.taker(region)?;
        let low = self.change_height(*from_mm)?;
        let only = model
            .as_ref()
            .map(|name| self.model_number(name))
            .transpose()?;
        let band = (low, self.bounds().size()[2] + 1.0);
        self.take_bands(&[band], (only, at.as_ref()), None, to, go_on)
    }

    /// Refuses to go right through a part that counts and is not closed.
    pub(super) fn check_closed_where(
        &self,
        counts: impl Fn((usize, usize)) -> bool,
    ) -> Result<(), Problem> {
        for (m, model) in self.models.iter().enumerate() {
            for (p, part) in model.parts.iter().enumerate() {
                if part.is_printed && counts((m, p)) && !model.open.parts[p].is_closed {
                    let message = format!(
                        "{} is not closed: what is right through it cannot be told from what is around it",
                        part.name
                    );
                    let mend = "Mend it in Intake first, or let the colour soak in a depth in mm.";
                    return Err(refuse("through-open", message, &part.name, mend));
                }
            }
        }
        Ok(())
    }

    /// Refuses to let a region go right through if a part that shows it is not closed.
    pub(super) fn check_closed_under(&self, region: &str) -> Result<(), Problem> {
        let number = self.number(region)?;
        let is_all_closed = |m: usize| self.models[m].open.parts.iter().all(|p| p.is_closed);
        let mut shows: Vec<Vec<bool>> = Vec::new();
        for (m, model) in self.models.iter().enumerate() {
            let mut of_parts = vec![false; model.parts.len()];
            if !is_all_closed(m) {
                model.labels.each(|facet, _, label| {
                    if label == Some(number) {
                        of_parts[model.open.part_of[facet as usize] as usize] = true;
                    }
                });
            }
            shows.push(of_parts);
        }
        self.check_closed_where(|(m, p)| shows[m][p])
    }

    /// Lets the region of a relief go right through, where the edit says so: the face has to be raised, and the region new to the
    /// surface, so that no other colour goes deeper by it.
    pub(super) fn go_through_relief(&mut self, edit: &GiveEdit) -> Result<(), Problem> {
        let GiveEdit::GiveRelief {
            region,
            at,
            crease_deg,
            through: true,
            ..
        } = edit
        else {
            return Ok(());
        };
        let Some(number) = self.taker(region)? else {
            return Ok(());
        };
        let (model, seed) = self.find(at)?;
        let open = &self.models[model].open;
        let is_closed = open.parts[open.part_of[seed as usize] as usize].is_closed;
        let is_raised = is_closed && open.creases().is_raised(open, seed, *crease_deg);
        if is_raised && number != 0 && self.region_tallies()[number as usize].facets == 0 {
            self.regions[number as usize].depth = SoakDepth::Through;
        }
        Ok(())
    }
}
