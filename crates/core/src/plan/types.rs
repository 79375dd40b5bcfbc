//! What a plan says. These types travel as JSON; slots count from 1.

use crate::rinse::Rinse;
use serde::Serialize;
use std::collections::BTreeMap;

/// A whole plan.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Plan {
    /// Layer by layer, from the bed up.
    pub layers: Vec<PlanLayer>,
    /// Every swap, in order.
    pub swaps: Vec<Swap>,
    /// Runs of layers that swap for the same reason, from the bed up.
    pub causes: Vec<SwapCause>,
    /// The totals.
    pub bill: Bill,
    /// What each slot gives, from slot 1 up; the sums are those of the bill.
    pub needs: Vec<SlotNeed>,
    /// What each region takes.
    pub regions: Vec<RegionTotal>,
    /// Every pair that is swapped, the one that purges most each time first.
    pub pairs: Vec<PairRinse>,
    /// The purge tower, if anything is purged.
    pub tower: Option<Tower>,
    /// What other orders would purge.
    pub yardsticks: Yardsticks,
}

/// One layer of a plan.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct PlanLayer {
    /// From 0.
    pub index: usize,
    /// Bottom, mm above the bed.
    pub z0_mm: f64,
    /// Top, mm above the bed.
    pub z1_mm: f64,
    /// Slots in printing order.
    pub order: Vec<u8>,
    /// Area per slot, mm².
    #[cfg_attr(feature = "wire", ts(type = "Record<string, number>"))]
    pub areas_mm2: BTreeMap<u8, f64>,
    /// Plastic per slot, mm³.
    #[cfg_attr(feature = "wire", ts(type = "Record<string, number>"))]
    pub extruded_mm3: BTreeMap<u8, f64>,
}

/// One change of filament.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Swap {
    /// Layer, from 0.
    pub layer: usize,
    /// Bottom of that layer, mm.
    pub z_mm: f64,
    /// Slot unloaded.
    pub from: u8,
    /// Slot loaded.
    pub to: u8,
    /// To be purged, mm³.
    pub purge_mm3: f64,
    /// The same as length of 1.75 mm filament, mm.
    pub purge_mm: f64,
    /// Keys of the regions that ask for the new slot in this layer.
    pub regions: Vec<String>,
}

/// A run of layers whose swaps have one reason.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct SwapCause {
    /// First layer, from 0.
    pub first_layer: usize,
    /// Last layer, from 0.
    pub last_layer: usize,
    /// Keys of the regions that are swapped in, ascending.
    pub regions: Vec<String>,
    /// Swaps in the run.
    pub swaps: usize,
    /// Purge in the run, mm³.
    pub purge_mm3: f64,
}

/// The running total.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Bill {
    /// Printing time, s.
    pub time_s: f64,
    /// Changes of filament.
    pub swaps: usize,
    /// Plastic in the model, g.
    pub model_g: f64,
    /// Plastic purged at swaps, g.
    pub purge_g: f64,
    /// Plastic that only keeps the tower standing, g.
    pub tower_g: f64,
    /// Price of all of it, in the currency of the rack.
    pub cost: f64,
    /// Purge and tower as a share of all plastic, 0 to 1.
    pub wasted_share: f64,
}

/// What one slot gives.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct SlotNeed {
    /// From 1.
    pub slot: u8,
    /// For the model, g.
    pub model_g: f64,
    /// Purged when it is swapped in, g.
    pub purge_g: f64,
    /// To keep the tower standing, g.
    pub tower_g: f64,
    /// Price of all of it.
    pub cost: f64,
}

/// What one region takes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct RegionTotal {
    /// Key of the region.
    pub region: String,
    /// Its volume inside the model, mm³.
    pub volume_mm3: f64,
    /// Plastic printed for it, mm³.
    pub extruded_mm3: f64,
    /// The same, g.
    pub grams: f64,
    /// Layers that print it.
    pub layers: usize,
}

/// One pair of slots that is swapped.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct PairRinse {
    /// Slot unloaded.
    pub from: u8,
    /// Slot loaded.
    pub to: u8,
    /// How often.
    pub times: usize,
    /// How it washes out.
    pub rinse: Rinse,
}

/// The purge tower.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Tower {
    /// Side of its square footprint, mm.
    pub side_mm: f64,
    /// Height: the top of the last layer with a swap, mm.
    pub height_mm: f64,
}

/// The purge of other orders, for comparison, g.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[cfg_attr(feature = "wire", ts(export))]
pub struct Yardsticks {
    /// Purge of the chosen order, mm³.
    pub best_purge_mm3: f64,
    /// Always the cheapest next slot, mm³.
    pub greedy_purge_mm3: f64,
    /// Slots in number order in every layer, mm³.
    pub number_order_purge_mm3: f64,
}
