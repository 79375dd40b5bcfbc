//! Parts of plastics that do not bond, held by teeth.

use super::fill::boolean_problem;
use super::replace::NewPart;
use crate::job::apply::refuse;
use crate::job::state::Job;
use crate::limits::TEETH;
use crate::model::Place;
use crate::solids::{Joint, TeethError, TeethForm, interlocked};
use crate::{Problem, figure};

/// Sizes of teeth that are proposed, mm, the largest first.
const PROPOSED_MM: [f64; 3] = [3.0, 2.0, 1.2];

/// Fewer teeth hold nothing.
const FEWEST: usize = 2;

/// Teeth that would hold two parts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct ProposedTeeth {
    /// Width, mm.
    pub(crate) size_mm: f64,
    /// How many.
    pub(crate) count: usize,
    /// Area that they add to the contact, mm².
    pub(crate) added_mm2: f64,
}

impl Job {
    /// Teeth of a size between parts of this job: at least two lines of plastic stay around them.
    fn teeth_form(&self, size_mm: f64, is_dovetail: bool) -> TeethForm {
        TeethForm {
            size_mm,
            is_dovetail,
            wall_mm: 2.0 * self.printer.nozzle_mm,
        }
    }

    /// The largest dovetails of the sizes that are proposed of which several hold the second part on the first; none if none do.
    ///
    /// # Cost
    /// That of [`Joint`], and of its places for each size.
    pub(crate) fn proposed_teeth(&self, parts: [(usize, usize); 2]) -> Option<ProposedTeeth> {
        // Proposals are made anew whenever Load is shown: larger parts are interlocked by hand, under Overlaps.
        const MOST_FACETS: usize = 200_000;
        let facets = |(m, _): (usize, usize)| self.models[m].open.mesh.facets.len();
        if parts.into_iter().map(facets).sum::<usize>() > MOST_FACETS {
            return None;
        }
        let [from, into] = parts.map(|(m, p)| self.solid(m, p));
        let joint = Joint::of(&from, &into);
        PROPOSED_MM.iter().find_map(|size_mm| {
            let form = self.teeth_form(*size_mm, true);
            let count = joint.places(&form).ok()?.len();
            (count >= FEWEST).then(|| ProposedTeeth {
                size_mm: *size_mm,
                count,
                added_mm2: count as f64 * form.added_mm2(),
            })
        })
    }

    pub(super) fn interlock(
        &mut self,
        at: &Place,
        into: &Place,
        (size_mm, is_dovetail): (f64, bool),
    ) -> Result<(), Problem> {
        TEETH.check(size_mm, "size_mm", |size| {
            format!("Teeth of {size} cannot be made")
        })?;
        let (first, second) = (self.free_part_at(at)?, self.free_part_at(into)?);
        let part = |(m, p): (usize, usize)| self.models[m].parts[p].clone();
        let (grows, gives) = (part(first), part(second));
        if first == second {
            let message = "A part cannot be interlocked with itself";
            return Err(refuse("teeth-itself", message, "into", "Choose two parts."));
        }
        if grows.is_held_to(&gives) {
            let message = format!("{} and {} are interlocked already", grows.name, gives.name);
            let mend = "Undo that first if the teeth are to be others.";
            return Err(refuse("teeth-already", message, "into", mend));
        }
        let solids = [first, second].map(|(m, p)| self.solid(m, p));
        let form = self.teeth_form(size_mm, is_dovetail);
        let made = interlocked(&solids[0], &solids[1], &form)
            .map_err(|e| teeth_problem([&grows.name, &gives.name], &form, &e))?;
        let [grown, given] = made.bodies;
        let (mut grows, mut gives) = (grows, gives);
        grows.held_to.insert(gives.key);
        gives.held_to.insert(grows.key);
        let new = [
            (first, NewPart::instead(&grows, grown)),
            (second, NewPart::instead(&gives, given)),
        ];
        let [(a, grown), (b, given)] = new;
        if a.0 == b.0 {
            self.replace_parts(a.0, vec![(a.1, vec![grown]), (b.1, vec![given])]);
        } else {
            self.replace_parts(a.0, vec![(a.1, vec![grown])]);
            self.replace_parts(b.0, vec![(b.1, vec![given])]);
        }
        Ok(())
    }
}

fn teeth_problem([grows, gives]: [&str; 2], form: &TeethForm, error: &TeethError) -> Problem {
    let size = figure(form.size_mm);
    let (code, message, mend) = match error {
        TeethError::Unclean(error) => return boolean_problem([grows, gives], error),
        TeethError::Apart => (
            "teeth-apart",
            format!("{grows} and {gives} touch nowhere, so nothing can hold them"),
            "Choose two parts with a face in common.".to_string(),
        ),
        TeethError::NoRoom => (
            "teeth-no-room",
            format!(
                "Where {grows} and {gives} touch, there is no room for a tooth of {size} mm with {} mm of plastic around it",
                figure(form.wall_mm)
            ),
            "Type a smaller size, or make the border longer.".to_string(),
        ),
        TeethError::TooMany => (
            "teeth-too-many",
            format!("Between {grows} and {gives} there would be more than 2000 teeth of {size} mm"),
            "Type a larger size.".to_string(),
        ),
    };
    refuse(code, message, "size_mm", &mend)
}
