//! Parts of a job: dividing, joining, filling and listing them.

mod divide;
mod fill;
mod interlock;
mod list;
mod names;
mod progress;
mod replace;
mod section;
mod stamp;
mod twins;
mod views;

pub use views::{InlayFacts, MadePart, OpenPart, PartMeeting, PartMeetings, PartPair, Thickness};

use super::before::Before;
use super::edits::{AlikeTo, PartEdit};
use super::history::Models;
use super::state::Job;
use crate::Problem;
use fill::InlayWish;
use progress::Progress;
pub(super) use progress::stopped;
use stamp::Stamping;

impl Job {
    /// Applies an edit of parts. What is refused halfway leaves the job to the caller to put back.
    pub(super) fn edit_parts(
        &mut self,
        edit: &PartEdit,
        before: &mut Before,
        models: &dyn Models,
    ) -> Result<(), Problem> {
        let whole = Progress::whole(models);
        if edit.makes_bodies() {
            whole.begin()?;
        }
        match edit {
            PartEdit::Split {
                at,
                smaller_mm3,
                fragments,
                alike,
            } => self.split_part(at, *smaller_mm3, *fragments, *alike, whole),
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
                    return self.part_from_region(region, at.as_ref(), *depth, whole);
                };
                let (model, part) = self.free_part_at(place)?;
                let twins = self.twins(model, part)?;
                let places: Vec<_> = twins.iter().map(|t| t.place(place)).collect();
                for taken in self.alike(region, place, AlikeTo::Parts, 30.0)?.0 {
                    self.put(taken.model, taken.changes, before);
                }
                let all = [place].into_iter().chain(&places);
                for (n, place) in all.enumerate() {
                    let piece = whole.piece(n, places.len() + 1);
                    self.part_from_region(region, Some(place), *depth, piece)?;
                }
                Ok(())
            }
            PartEdit::Cut { at, plane, alike } => self.cut_part(at, plane, *alike, whole),
            PartEdit::Inlay { alike, .. } => {
                let Some((at, wish)) = InlayWish::of(edit) else {
                    return Ok(());
                };
                let places = self.with_twins(at, *alike)?;
                for (n, place) in places.iter().enumerate() {
                    whole.piece(n, places.len()).begin()?;
                    self.inlay_relief(place, &wish)?;
                }
                Ok(())
            }
            PartEdit::Sink {
                at,
                depth_mm,
                clearance_mm,
                alike,
            } => {
                let places = self.with_twins(at, *alike)?;
                for (n, place) in places.iter().enumerate() {
                    let piece = whole.piece(n, places.len());
                    self.sink_part(place, *depth_mm, *clearance_mm, piece)?;
                }
                Ok(())
            }
            PartEdit::Stamp {
                at,
                drawing,
                laying,
                regions,
                relief,
            } => {
                let asked = Stamping {
                    at,
                    drawing,
                    laying,
                    regions,
                    relief: *relief,
                };
                self.stamp(&asked, models, whole)
            }
            PartEdit::CutOverlap { keep, from } => self.cut_overlap(keep, from),
            PartEdit::Interlock {
                at,
                into,
                size_mm,
                dovetail,
            } => self.interlock(at, into, (*size_mm, *dovetail)),
            PartEdit::Order { at, beside, above } => self.order_part(at, beside, *above),
            PartEdit::Group { at, group, name } => self.group(at, group, name),
            PartEdit::RenameGroup { group, name } => self.rename_group(group, name),
            PartEdit::Ungroup { group } => self.ungroup(group),
            PartEdit::Lock { at, is_locked } => self.lock_part(at, *is_locked),
            PartEdit::Print { at, is_printed } => self.print_part(at, *is_printed),
            PartEdit::SkipPasses { at, slots } => self.skip_passes(at, slots),
            PartEdit::MadeOf {
                at,
                material,
                opacity,
            } => self.make_of(at, material.as_deref(), *opacity),
        }
    }
}
