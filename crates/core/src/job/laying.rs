//! Drawings laid on models: from an edit to the facets that change.

use super::apply::refuse;
use super::colouring::Taken;
use super::drawn::Ask;
use super::parts::stopped;
use super::state::{Job, JobModel};
use crate::carve::{Label, Overlaying, overlay};
use crate::counted;
use crate::drawing::{DrawingSource, Flat, Frame, Laying, Sheet};
use crate::model::spots;
use crate::problem::Problem;
use crate::shapes::Area;
use rayon::prelude::*;
use std::sync::Arc;

/// Gives a drawing laid flat.
pub(super) type Drawings<'a> = &'a dyn Fn(&DrawingSource) -> Result<Arc<Flat>, Problem>;

/// A drawing as an edit lays it.
pub(super) struct Laid<'a> {
    pub(super) drawing: &'a DrawingSource,
    pub(super) laying: &'a Laying,
    pub(super) regions: &'a [Option<String>],
    pub(super) model: Option<&'a str>,
}

impl Job {
    /// What a drawing takes.
    pub(super) fn lay(
        &self,
        laid: &Laid<'_>,
        drawings: Drawings<'_>,
        go_on: Ask<'_>,
    ) -> Result<Vec<Taken>, Problem> {
        let frame = laid.laying.frame()?;
        let models = self.models_named(laid.model)?;
        let flat = drawings(laid.drawing)?;
        let (areas, takers) = self.taken_areas(&flat, laid.regions)?;
        let sheet = Sheet::new(&areas, &laid.laying.on_page(flat.size_mm), frame.period());
        let mut taken = Vec::new();
        for model in models {
            taken.push(self.lay_over(model, &sheet, &frame, &takers, go_on)?);
        }
        Taken::some(
            taken,
            "laying-misses",
            "The drawing meets no surface that it would change",
            "laying",
            "Lay it on a side of the model that faces it, and take protection and locks off what it is to cover.",
        )
    }

    /// The areas that go to a region each, and the regions; colours of one region are one area.
    pub(super) fn taken_areas(
        &self,
        flat: &Flat,
        regions: &[Option<String>],
    ) -> Result<(Vec<Area>, Vec<Option<u16>>), Problem> {
        if regions.len() > flat.inks.len() {
            return Err(refuse(
                "laying-colours",
                format!(
                    "The drawing has {}, and {} are named for them",
                    counted(flat.inks.len(), "colour"),
                    counted(regions.len(), "region")
                ),
                "regions",
                "Name a region for each of its colours.",
            ));
        }
        let mut takers: Vec<Option<u16>> = Vec::new();
        let mut inks: Vec<Vec<&Area>> = Vec::new();
        for (region, ink) in regions.iter().zip(&flat.inks) {
            let Some(region) = region else { continue };
            let taker = self.taker(region)?;
            match takers.iter().position(|t| *t == taker) {
                Some(known) => inks[known].push(&ink.area),
                None => {
                    takers.push(taker);
                    inks.push(vec![&ink.area]);
                }
            }
        }
        if takers.is_empty() {
            let what = "No colour of the drawing goes to a region";
            let mend = "Give at least one of its colours to a region.";
            return Err(refuse("laying-colours", what, "regions", mend));
        }
        let areas = inks.into_iter().map(|of| match of[..] {
            [only] => only.clone(),
            _ => Area::union(of),
        });
        Ok((areas.collect(), takers))
    }

    fn lay_over(
        &self,
        model: usize,
        sheet: &Sheet,
        frame: &Frame,
        takers: &[Option<u16>],
        go_on: Ask<'_>,
    ) -> Result<Taken, Problem> {
        let m = &self.models[model];
        let open = &m.open;
        let is_met = |f: &u32| {
            let corners = open.mesh.corners(*f);
            sheet.reaches(frame, &corners) && frame.faces(&corners)
        };
        let count = open.mesh.facets.len() as u32;
        let met: Vec<u32> = (0..count).into_par_iter().filter(is_met).collect();
        if !go_on() {
            return Err(stopped());
        }
        let is_seen = |f: &u32| {
            let spots = spots(&open.mesh.corners(*f));
            (spots.into_iter()).any(|p| !self.is_hidden(model, frame, *f, p))
        };
        let facets: Vec<u32> = met.into_par_iter().filter(is_seen).collect();
        let lines = |f: u32| sheet.lines(frame, open, f);
        let coat = |f: u32, middle: [f64; 3], label: Label| {
            let Some(area) = sheet.area_under(frame, middle) else {
                return label;
            };
            match self.is_hidden(model, frame, f, middle) {
                true => label,
                false => self.given(model, f, label, takers[area]),
            }
        };
        let laid = Overlaying {
            open,
            labels: &m.labels,
            go_on,
        };
        let changes = overlay(&laid, &facets, &lines, &coat).ok_or_else(stopped)?;
        Ok(Taken { model, changes })
    }

    /// Whether something stands between a place on a facet and whoever looks at the drawing: of this model or of another.
    fn is_hidden(&self, model: usize, frame: &Frame, facet: u32, p: [f64; 3]) -> bool {
        let Some(eye) = frame.eye(p) else {
            return false;
        };
        let stands = |(number, m): (usize, &JobModel)| {
            let own = if number == model { facet } else { u32::MAX };
            m.open.tree().stands_between(p, eye, own)
        };
        self.models.iter().enumerate().any(stands)
    }
}
