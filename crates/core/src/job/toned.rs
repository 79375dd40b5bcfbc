//! Shade, light, edges and speckles: from an edit to the facets that change.

use super::apply::refuse;
use super::colouring::Taken;
use super::drawn::Ask;
use super::edits::GiveEdit;
use super::parts::stopped;
use super::state::Job;
use crate::carve::{Label, Overlaying, overlay};
use crate::limits::{SPECKLE, SPECKLE_SHARE, TONE_REACH, TONE_STRENGTH};
use crate::problem::Problem;
use crate::regions::{SpeckleField, level_line, tone_values, value_at};

/// What to do when nothing was taken.
const MORE: &str = "Take more of it, choose another region, or take protection and locks off.";

impl Job {
    /// The models that an edit reaches, and the region whose surface alone it takes.
    fn reached(
        &self,
        model: Option<&str>,
        only: Option<&str>,
    ) -> Result<(Vec<usize>, Option<u16>), Problem> {
        let only = only.map(|key| self.number(key)).transpose()?;
        Ok((self.models_named(model)?, only))
    }

    /// What a tone takes.
    pub(super) fn tone(&self, edit: &GiveEdit, go_on: Ask<'_>) -> Result<Vec<Taken>, Problem> {
        let GiveEdit::GiveTone {
            region,
            tone,
            strength,
            reach_mm,
            only,
            model,
        } = edit
        else {
            return Ok(Vec::new());
        };
        let how = |v: &str| format!("A tone cannot take a share of {v}");
        TONE_STRENGTH.check(*strength, "strength", how)?;
        let far = |v: &str| format!("A tone cannot reach {v} far");
        TONE_REACH.check(*reach_mm, "reach_mm", far)?;
        let to = self.taker(region)?;
        let (models, only) = self.reached(model.as_deref(), only.as_deref())?;
        let level = 1.0 - strength;
        let mut taken = Vec::new();
        for model in models {
            let m = &self.models[model];
            let open = &m.open;
            let values = tone_values(open, *tone, *reach_mm, go_on).ok_or_else(stopped)?;
            let is_reached = |f: &u32| {
                let ids = open.mesh.facets[*f as usize];
                ids.iter().any(|v| values[*v as usize] > level)
            };
            let facets: Vec<u32> = (0..open.mesh.facets.len() as u32)
                .filter(is_reached)
                .collect();
            let lines = |f: u32| level_line(open, &values, level, f);
            let coat = |f: u32, middle: [f64; 3], label: Label| {
                let takes = only.is_none_or(|only| self.region_of_label(model, f, label) == only);
                match takes && value_at(open, &values, f, middle) > level {
                    true => self.given(model, f, label, to),
                    false => label,
                }
            };
            let laid = Overlaying {
                open,
                labels: &m.labels,
                go_on,
            };
            let changes = overlay(&laid, &facets, &lines, &coat).ok_or_else(stopped)?;
            taken.push(Taken { model, changes });
        }
        let nothing = "Nothing of the surface is of that kind, or all of it belongs there already";
        Taken::some(taken, "tone-nothing", nothing, "region", MORE)
    }

    /// What speckles take.
    pub(super) fn speckles(&self, edit: &GiveEdit, go_on: Ask<'_>) -> Result<Vec<Taken>, Problem> {
        let GiveEdit::GiveSpeckles {
            region,
            width_mm,
            share,
            seed,
            only,
            model,
        } = edit
        else {
            return Ok(Vec::new());
        };
        SPECKLE.check(*width_mm, "width_mm", |v| {
            format!("Speckles cannot be {v} wide")
        })?;
        let how = |v: &str| format!("Speckles cannot cover a share of {v}");
        SPECKLE_SHARE.check(*share, "share", how)?;
        let to = self.taker(region)?;
        let (models, only) = self.reached(model.as_deref(), only.as_deref())?;
        // A million of them is more than any nozzle prints.
        const MOST: f64 = 200_000.0;
        let area: f64 = models.iter().map(|m| self.models[*m].open.area_mm2()).sum();
        if area * share / (0.785 * width_mm * width_mm) > MOST {
            let what = "So many speckles are more than can be made";
            return Err(refuse(
                "speckle-out-of-range",
                what,
                "width_mm",
                "Make them wider or fewer.",
            ));
        }
        let mut taken = Vec::new();
        for model in models {
            let bounds = self.models[model].open.bounds();
            let field = SpeckleField::new(*width_mm, *share, u64::from(*seed), &bounds);
            let facets: Vec<u32> = (0..self.models[model].open.mesh.facets.len() as u32).collect();
            let takes = |region: u16| only.is_none_or(|only| region == only);
            let changes = self.cut_along_where(model, &field, &facets, to, &takes, go_on)?;
            taken.push(Taken { model, changes });
        }
        let nothing = "The speckles meet no surface that they would change";
        Taken::some(taken, "speckle-nothing", nothing, "region", MORE)
    }
}
