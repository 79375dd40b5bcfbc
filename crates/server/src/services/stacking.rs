//! Pictures whose shades are stacked.

use super::workshop::Workshop;
use crate::error::ApiError;
use crate::wire::{ReadWedge, StackedSpool, StackedTone, StackedView, StagedView, WedgeView};
use std::fmt::Write;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::colour::Colour;
use varichrom_core::drawing::{
    Stacking, bodies_threemf, calibrated, stacked as stack_picture, wedge,
};
use varichrom_core::limits::STACK_MM;

impl Workshop {
    /// A picture on the table as it would be stacked.
    ///
    /// # Errors
    /// As for [`Workshop::drawing`]; why it cannot be stacked so. `go_on`: false once nobody waits any more.
    pub(crate) fn stacked(
        &self,
        id: u32,
        stacking: &Stacking,
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<StackedView, ApiError> {
        let table = self.staged(id)?.drawing()?;
        let options = table.options();
        let (_, bytes) = table.file();
        let (width, specks) = (options.width_mm, options.specks_mm2);
        let found = stack_picture(bytes, width, specks, stacking, &|_| go_on())?;
        let mut from = 0;
        let spools = found.stack.order.iter().zip(&found.stack.tops);
        let spools: Vec<StackedSpool> = spools
            .map(|(spool, top)| {
                let of = &stacking.spools[*spool];
                let bottom = std::mem::replace(&mut from, *top);
                StackedSpool {
                    name: of.name.clone(),
                    colour: of.colour,
                    layers: [bottom + 1, *top],
                    span_mm: [bottom, *top].map(|l| stacking.top_mm(l)),
                }
            })
            .collect();
        let tones = found.stack.tones.iter().zip(&found.areas);
        Ok(StackedView {
            swaps: spools.len().saturating_sub(1),
            height_mm: spools.last().map_or(0.0, |s| s.span_mm[1]),
            spools,
            tones: tones
                .map(|(tone, area)| StackedTone {
                    layers: tone.layers,
                    colour: tone.colour,
                    area_mm2: area.mm2(),
                })
                .collect(),
            size_mm: found.size_mm,
            mean_difference: found.mean_difference,
            preview: found.preview,
            wanted: letters(&found.wanted),
            predicted: letters(&found.predicted),
        })
    }

    /// Makes a model of a stacked picture, which waits as a file does until a job takes it.
    ///
    /// # Errors
    /// As for [`Workshop::stacked`].
    pub(crate) fn model_of_stack(
        self: &Arc<Self>,
        id: u32,
        stacking: Stacking,
    ) -> Result<StagedView, ApiError> {
        let table = self.staged(id)?.drawing()?;
        let (file, model) = table.stacked_model(stacking)?;
        self.stage(&file, &model, &[], false)
    }

    /// Makes a step wedge of two spools, which waits as a file does until a job takes it.
    ///
    /// # Errors
    /// As for [`wedge`].
    pub(crate) fn wedge(self: &Arc<Self>, stacking: &Stacking) -> Result<StagedView, ApiError> {
        let bodies = wedge(stacking)?;
        let names: Vec<&str> = stacking.spools.iter().map(|s| s.name.as_str()).collect();
        let title = format!("Step wedge, {}", names.join(" under "));
        let model = bodies_threemf(&title, &bodies)?;
        self.stage(&format!("{title}.3mf"), &model, &[], false)
    }
}

/// What a printed wedge says of its spool.
///
/// # Errors
/// As for [`calibrated`], and for a height that no layer has.
pub(crate) fn read_wedge(read: &ReadWedge) -> Result<WedgeView, Problem> {
    STACK_MM.check(read.layer_mm, "layer_mm", |v| {
        format!("A layer cannot be {v} high")
    })?;
    let found = calibrated(read.colour, read.layer_mm, &read.steps)?;
    Ok(WedgeView {
        opacity: found.opacity,
        mean_difference: found.mean_difference,
    })
}

/// Six letters a colour.
fn letters(colours: &[Colour]) -> String {
    let mut out = String::with_capacity(6 * colours.len());
    for Colour([r, g, b]) in colours {
        let _ = write!(out, "{r:02x}{g:02x}{b:02x}");
    }
    out
}
