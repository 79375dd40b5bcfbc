//! Parts of a job: dividing, joining, filling and listing them.

mod divide;
mod edit;
mod fill;
mod list;
mod names;
mod replace;
mod section;
mod twins;
mod views;

pub use edit::{CutPlane, Depth, Fragments, PartEdit};
pub use views::{InlayFacts, MadePart, PartMeeting, PartPair, Thickness};

use super::apply::Before;
use super::edit::AlikeTo;
use super::state::Job;
use crate::Problem;
use fill::InlayWish;

impl Job {
    /// Applies an edit of parts. What is refused halfway leaves the job to the caller to put back.
    pub(super) fn edit_parts(
        &mut self,
        edit: &PartEdit,
        before: &mut Before,
    ) -> Result<(), Problem> {
        match edit {
            PartEdit::Split {
                at,
                smaller_mm3,
                fragments,
                alike,
            } => self.split_part(at, *smaller_mm3, *fragments, *alike),
            PartEdit::Join { at } => self.join_parts(at),
            PartEdit::Drop { at } => self.drop_part(at),
            PartEdit::Tidy {
                smaller_mm3,
                fragments,
            } => self.tidy_parts(*smaller_mm3, *fragments),
            PartEdit::FromRegion {
                region,
                at,
                depth,
                alike,
            } => {
                let Some(place) = at.as_ref().filter(|_| *alike) else {
                    return self.part_from_region(region, at.as_ref(), *depth);
                };
                let (model, part) = self.free_part_at(place)?;
                let twins = self.twins(model, part)?;
                let places: Vec<_> = twins.iter().map(|t| t.place(place)).collect();
                for taken in self.alike(region, place, AlikeTo::Parts, 30.0)?.0 {
                    self.put(taken.model, taken.changes, before);
                }
                self.part_from_region(region, Some(place), *depth)?;
                for place in &places {
                    self.part_from_region(region, Some(place), *depth)?;
                }
                Ok(())
            }
            PartEdit::Cut { at, plane, alike } => self.cut_part(at, plane, *alike),
            PartEdit::Inlay { alike, .. } => {
                let Some((at, wish)) = InlayWish::of(edit) else {
                    return Ok(());
                };
                for place in self.with_twins(at, *alike)? {
                    self.inlay_relief(&place, &wish)?;
                }
                Ok(())
            }
            PartEdit::Sink {
                at,
                depth_mm,
                clearance_mm,
                alike,
            } => {
                for place in self.with_twins(at, *alike)? {
                    self.sink_part(&place, *depth_mm, *clearance_mm)?;
                }
                Ok(())
            }
            PartEdit::CutOverlap { keep, from } => self.cut_overlap(keep, from),
            listed => self.list_parts(listed),
        }
    }
}
