//! Edits in plain words.

use super::edit::{AlikeTo, Edit};
use super::placing::Placing;
use super::state::OWN_REGION;
use crate::regions::Reach;
use crate::{counted, figure};

impl Edit {
    /// What it does, in plain words. `name_of` gives what the maker calls a region of some key.
    pub fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        if let Some(words) = self.colouring_in_words(name_of) {
            return words;
        }
        match self {
            Edit::OpenModel { model, .. } => format!("Open {model}"),
            Edit::KeepColours { model, .. } => format!("Keep the colours of {model}"),
            Edit::RemoveModel { model } => format!("Take out {model}"),
            Edit::RenameModel { model, name } => format!("Rename {model} to {name}"),
            Edit::ReviseModel { model, file, .. } => format!("Replace {model} by {file}"),
            Edit::SetUnits { unit, .. } => format!("Read the file in {}", unit.names()[1]),
            Edit::Place { placing, .. } => match placing {
                Placing::Move { .. } => "Move".into(),
                Placing::Turn { degrees, .. } => format!("Turn by {degrees}°"),
                Placing::Stretch { .. } => "Stretch".into(),
                Placing::Size { mm, .. } => format!("Scale to {mm} mm"),
                Placing::Mirror { .. } => "Mirror".into(),
                Placing::FaceDown { .. } => "Lay a face down".into(),
                Placing::FaceUp { .. } => "Turn a face up".into(),
                Placing::Centre => "Centre on the bed".into(),
                Placing::Drop => "Drop to the bed".into(),
                Placing::CentreOn { .. } => "Centre on another".into(),
                Placing::Home => "Put back where the file has it".into(),
            },
            Edit::SetApart { .. } => "Stand the models side by side".into(),
            Edit::Mend { model, .. } => format!("Mend {model}"),
            Edit::SetCopies { across, along, .. } => {
                format!("Print {}", counted((across * along) as usize, "piece"))
            }
            Edit::FillBed { .. } => "Fill the bed with pieces".into(),
            Edit::RenameJob { name } => format!("Name the job {name}"),
            Edit::RenamePart { name, .. } => format!("Name a part {name}"),
            Edit::AddRegion { name, .. } => format!("Add region {name}"),
            Edit::RenameRegion { name, .. } => format!("Name a region {name}"),
            Edit::RecolourRegion { region, colour } => {
                format!("Colour {} {colour}", name_of(region))
            }
            Edit::DeleteRegion { region } => format!("Delete {}", name_of(region)),
            Edit::SetSoak { region, soak_mm } => {
                format!("Let {} soak in {} mm", name_of(region), figure(*soak_mm))
            }
            Edit::AssignSlot { region, slot } => match slot {
                Some(slot) => format!("Print {} from slot {slot}", name_of(region)),
                None => format!("Take the slot from {}", name_of(region)),
            },
            Edit::LoadSlot { slot, .. } => format!("Load slot {slot}"),
            Edit::Load(load) => load.in_words(name_of),
            Edit::Part(part) => part.in_words(name_of),
            Edit::Plan(plan) => plan.in_words(name_of),
            Edit::Several { what, .. } => what.clone(),
            Edit::GivePart { region, .. } => format!("Whole part to {}", name_of(region)),
            Edit::SetPrinter { printer } => format!("Set the printer {}", printer.name),
            Edit::ClearColours {} => "Clear all colours".into(),
            Edit::ProtectRegion {
                region,
                is_protected,
            } => format!(
                "{} {}",
                if *is_protected {
                    "Protect"
                } else {
                    "No longer protect"
                },
                name_of(region)
            ),
            Edit::GiveStray { .. } => "Give a stray to its neighbour".into(),
            Edit::GiveStrays { smaller_mm2, .. } => {
                format!(
                    "Give all strays under {} mm² to their neighbours",
                    figure(*smaller_mm2)
                )
            }
            Edit::ChangeEdit { number, to } => {
                format!("Change step {number}: {}", to.in_words(name_of))
            }
            // Said above.
            _ => String::new(),
        }
    }

    fn colouring_in_words(&self, name_of: &dyn Fn(&str) -> String) -> Option<String> {
        let region = self.region_given()?;
        let to = if region == OWN_REGION {
            "back to the part".to_string()
        } else {
            format!("to {}", name_of(region))
        };
        Some(match self {
            Edit::GivePatch { crease_deg, .. } => format!("Patch at {}° {to}", figure(*crease_deg)),
            Edit::GiveRelief { all: true, .. } => format!("All reliefs at one height {to}"),
            Edit::GiveRelief { .. } => format!("Relief {to}"),
            Edit::GiveStroke { reach, stroke, .. } => format!(
                "{} of {} mm {to}",
                match reach {
                    Reach::Dab => "Dab",
                    Reach::Dip => "Dip",
                },
                stroke.radius_mm
            ),
            Edit::GiveFacets { at, .. } if at.len() == 1 => format!("Facet {to}"),
            Edit::GiveFacets { at, .. } => format!("{} {to}", counted(at.len(), "facet")),
            Edit::GiveBand {
                low_mm,
                high_mm,
                count,
                ..
            } => {
                let (low, high) = (low_mm.min(*high_mm), low_mm.max(*high_mm));
                let from = format!("{low:.2} to {high:.2} mm");
                if *count == 1 {
                    format!("Band from {from} {to}")
                } else {
                    format!("{count} bands, the first from {from}, {to}")
                }
            }
            Edit::GiveLasso { through, .. } => {
                let how = if *through { " right through" } else { "" };
                format!("Lasso{how} {to}")
            }
            Edit::GiveAlike {
                to: AlikeTo::Parts, ..
            } => {
                format!("{} on all parts alike", name_of(region))
            }
            Edit::GiveAlike { .. } => format!("Patches alike {to}"),
            Edit::GrowRegion { by_mm, .. } if *by_mm < 0.0 => {
                format!("Shrink {} by {} mm", name_of(region), -by_mm)
            }
            Edit::GrowRegion { by_mm, .. } => {
                format!("Grow {} by {} mm", name_of(region), figure(*by_mm))
            }
            Edit::SmoothRegion { by_mm, .. } => {
                format!(
                    "Smooth the edge of {} by {} mm",
                    name_of(region),
                    figure(*by_mm)
                )
            }
            Edit::InvertRegion { .. } => format!("Invert {}", name_of(region)),
            _ => format!("All the rest {to}"),
        })
    }
}
