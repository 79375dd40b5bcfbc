//! What the depth of a colour costs, and how deep it has to be.

use super::task::{filament_in_slot, task};
use crate::Problem;
use crate::colour::{Colour, Hiding, difference};
use crate::job::{Job, SoakDepth};
use crate::layers::Touched;
use crate::machine::Spool;
use crate::plan::{Planner, plan};
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
    /// One line for each number of layers from 1, as far as they are planned.
    pub choices: Vec<DepthCost>,
}

/// A region whose depths are compared.
pub struct Depths<'a> {
    job: &'a Job,
    spools: &'a [Spool],
    number: u16,
    /// Own regions of parts that show it.
    grounds: Vec<u16>,
}

impl<'a> Depths<'a> {
    /// The depths of a region.
    ///
    /// # Errors
    /// `region-unknown`.
    ///
    /// # Cost
    /// Linear in facets.
    pub fn of(job: &'a Job, spools: &'a [Spool], region: &str) -> Result<Depths<'a>, Problem> {
        let number = job.region(region).ok_or_else(|| {
            let message = format!("There is no region with the key {region}");
            Problem::new(
                "region-unknown",
                message,
                "region",
                "Choose one of the list.",
            )
        })?;
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
        Ok(Depths {
            job,
            spools,
            number,
            grounds,
        })
    }

    /// Whether there is anything to choose: a region of whole parts alone goes as deep as they do.
    pub fn is_choice(&self) -> bool {
        !self.grounds.is_empty()
    }

    /// What lies below and how deep hides it; the choices are still to be planned with [`Depths::cost`].
    pub fn choices(&self, tolerance: f64) -> DepthChoices {
        let hiding = self.hiding(self.number);
        let layer_mm = self.job.printer.layer_mm;
        let over = self.over();
        let least_mm = hiding.least_mm(over, tolerance);
        DepthChoices {
            region: self.job.regions[self.number as usize].key.clone(),
            over,
            tolerance,
            least_mm,
            least_layers: least_mm.map(|mm| (mm / layer_mm - 1e-9).ceil().max(1.0) as u32),
            choices: Vec::new(),
        }
    }

    /// What one depth comes to, planned in full. `planner` is the job's own or a copy of it; it keeps what it surveys, so that
    /// depths asked for from the shallowest on survey deeper only where they must.
    ///
    /// # Errors
    /// As for [`crate::plan::plan`]; `stopped` if `go_on` said so.
    pub fn cost(
        &self,
        planner: &mut Planner,
        layers: u32,
        go_on: &(dyn Fn() -> bool + Sync),
    ) -> Result<DepthCost, Problem> {
        let mm = f64::from(layers) * self.job.printer.layer_mm;
        let mut deep = self.job.clone();
        deep.regions[self.number as usize].depth = SoakDepth::Layers { layers };
        planner.touch(Touched::Depths);
        let shares = planner.advance(deep.shape(), &deep.claims(), &|_| go_on())?;
        let planned = plan(&task(&deep, self.spools), &shares)?;
        Ok(DepthCost {
            layers,
            mm,
            swaps: planned.bill.swaps,
            purge_g: planned.bill.purge_g,
            time_s: planned.bill.time_s,
            cost: planned.bill.cost,
            shows: self.shows(self.over(), mm),
        })
    }

    fn hiding(&self, region: u16) -> Hiding {
        filament_in_slot(self.job, self.spools, self.job.slot_of(region) - 1).hiding
    }

    /// How far the colour is off when it lies so thick over another.
    fn shows(&self, over: Colour, mm: f64) -> f64 {
        let hiding = self.hiding(self.number);
        let thick = hiding.over([0.5; 3], 1e4);
        difference(hiding.over(over.linear(), mm), thick)
    }

    /// The colour below that shines through most.
    fn over(&self) -> Colour {
        let layer_mm = self.job.printer.layer_mm;
        let colours = self.grounds.iter().map(|g| self.hiding(*g).colour);
        let shows = |colour: &Colour| self.shows(*colour, layer_mm);
        let worst = colours.max_by(|a, b| shows(a).total_cmp(&shows(b)));
        worst.unwrap_or_else(|| self.hiding(self.number).colour)
    }
}
