//! What edits name and type: found, or refused in a sentence.

use super::super::state::Job;
use crate::Problem;
use crate::formats::writable;
use crate::limits::SOAK;
use crate::model::{Place, PlaceError};

pub(in crate::job) fn refuse(
    code: &str,
    message: impl Into<String>,
    place: &str,
    mend: &str,
) -> Problem {
    Problem::new(code, message, place, mend)
}

pub(in crate::job) fn check_name(name: &str) -> Result<String, Problem> {
    let name = &writable(name);
    const LONGEST: usize = 200;
    if name.is_empty() {
        return Err(refuse(
            "name-empty",
            "The name is empty",
            "name",
            "Type a name.",
        ));
    }
    if name.chars().count() > LONGEST {
        let message = format!("The name is longer than {LONGEST} characters");
        return Err(refuse(
            "name-too-long",
            message,
            "name",
            "Type a shorter name.",
        ));
    }
    Ok(name.to_string())
}

/// Refuses a soak depth that cannot be used.
pub(in crate::job) fn check_soak(soak_mm: f64) -> Result<(), Problem> {
    SOAK.check(soak_mm, "soak_mm", |depth| {
        format!("A soak depth of {depth} cannot be used")
    })
}

impl Job {
    pub(in crate::job) fn number(&self, region: &str) -> Result<u16, Problem> {
        self.region(region).ok_or_else(|| {
            refuse(
                "region-unknown",
                format!("There is no region with the key {region}"),
                "region",
                "Add the region first, or choose one of the list.",
            )
        })
    }

    pub(in crate::job) fn check_slot(&self, slot: u8) -> Result<(), Problem> {
        if (1..=self.printer.slots).contains(&slot) {
            return Ok(());
        }
        Err(refuse(
            "slot-unknown",
            format!("The printer has no slot {slot}"),
            "slot",
            &format!("Choose a slot from 1 to {}.", self.printer.slots),
        ))
    }

    pub(in crate::job) fn first_free_slot(&self) -> Option<u8> {
        (1..=self.printer.slots).find(|s| self.live_regions().all(|(_, r)| r.slot != Some(*s)))
    }

    pub(in crate::job) fn find(&self, at: &Place) -> Result<(usize, u32), Problem> {
        let model = self.model_number(&at.model)?;
        let facet = at.facet(&self.models[model].open).map_err(|e| {
            let code = match e {
                PlaceError::NotANumber => "place-not-a-number",
                PlaceError::OffTheMesh(_) => "place-off-the-mesh",
            };
            let message = match e {
                PlaceError::NotANumber => "The point or its normal is not usable numbers".into(),
                PlaceError::OffTheMesh([x, y, z]) => {
                    format!(
                        "There is no surface of {} at {x:.2}, {y:.2}, {z:.2} mm",
                        at.model
                    )
                }
            };
            refuse(
                code,
                message,
                "at.point",
                "Pick a point on the surface of the model.",
            )
        })?;
        Ok((model, facet))
    }
}
