//! What the depth of a colour costs, and how deep it has to be.

use super::task::{filament_in_slot, task};
use crate::Problem;
use crate::colour::{Colour, difference};
use crate::job::Job;
use crate::layers::{Survey, label};
use crate::machine::Spool;
use crate::plan::plan;
use serde::Serialize;

/// What one depth of a region comes to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct DepthCost {
    /// Layers deep.
    pub layers: u32,
    /// The same in mm.
    pub mm: f64,
    /// Swaps of the whole job at this depth.
    pub swaps: usize,
    /// Its purge, g.
    pub purge_g: f64,
    /// Its time, s.
    pub time_s: f64,
    /// Its cost.
    pub cost: f64,
    /// CIEDE2000 difference between the colour over what lies below and the same colour so thick that nothing shows.
    pub shows: f64,
}

/// The depths of a region to choose from.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct DepthChoices {
    /// Key of the region.
    pub region: String,
    /// Colour that lies below it: of all own regions of parts that show it, the one that shines through most.
    pub over: Colour,
    /// Difference up to which nothing is said to shine through.
    pub tolerance: f64,
    /// The least depth that hides what lies below, mm; none if no depth does.
    pub least_mm: Option<f64>,
    /// The same in whole layers.
    pub least_layers: Option<u32>,
    /// One line for each number of layers from 1; none for a region that covers whole parts only.
    pub choices: Vec<DepthCost>,
}

/// Depths of a region from 1 layer to `most`, each planned in full.
///
/// `survey` has to reach as deep as the deepest of them.
///
/// # Errors
/// `region-unknown`, or as for [`plan`].
pub fn depth_choices(
    job: &Job,
    spools: &[Spool],
    survey: &Survey,
    region: &str,
    most: u32,
    tolerance: f64,
) -> Result<DepthChoices, Problem> {
    let number = job.region(region).ok_or_else(|| {
        let message = format!("There is no region with the key {region}");
        Problem::new(
            "region-unknown",
            message,
            "region",
            "Choose one of the list.",
        )
    })?;
    let filament_of = |region: u16| filament_in_slot(job, spools, job.slot_of(region) - 1);
    let hiding = filament_of(number).hiding;
    let thick = hiding.over([0.5; 3], 1e4);
    let shows = |over: Colour, mm: f64| difference(hiding.over(over.linear(), mm), thick);
    let mut grounds: Vec<u16> = Vec::new();
    for (index, model) in job.models.iter().enumerate() {
        model.labels.each(|facet, _, label| {
            if label == Some(number) {
                let own = job.region_of_label(index, facet, None);
                if own != number && !grounds.contains(&own) {
                    grounds.push(own);
                }
            }
        });
    }
    // A region of whole parts alone goes as deep as they do.
    let most = if grounds.is_empty() { 0 } else { most };
    let layer_mm = job.printer.layer_mm;
    let worst = grounds
        .iter()
        .map(|g| filament_of(*g).hiding.colour)
        .max_by(|a, b| shows(*a, layer_mm).total_cmp(&shows(*b, layer_mm)));
    let over = worst.unwrap_or(hiding.colour);
    let mut choices = Vec::new();
    let mut deep = job.clone();
    for layers in 1..=most {
        let mm = f64::from(layers) * layer_mm;
        deep.regions[number as usize].soak_mm = mm;
        let planned = plan(&task(&deep, spools), &label(survey, &deep.claims()))?;
        choices.push(DepthCost {
            layers,
            mm,
            swaps: planned.bill.swaps,
            purge_g: planned.bill.purge_g,
            time_s: planned.bill.time_s,
            cost: planned.bill.cost,
            shows: shows(over, mm),
        });
    }
    let least_mm = hiding.least_mm(over, tolerance);
    Ok(DepthChoices {
        region: region.to_string(),
        over,
        tolerance,
        least_mm,
        least_layers: least_mm.map(|mm| (mm / layer_mm - 1e-9).ceil().max(1.0) as u32),
        choices,
    })
}
