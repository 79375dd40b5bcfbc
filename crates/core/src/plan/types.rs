//! What a plan says. These types travel as JSON; slots count from 1.

use crate::rinse::Rinse;
use serde::Serialize;
use std::collections::BTreeMap;

/// A whole plan.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    /// What is too thin to print from its own slot, the most first.
    pub too_thin: Vec<ThinTotal>,
    /// Every pair that is swapped, the one that purges most each time first.
    pub pairs: Vec<PairRinse>,
    /// The purge tower, if anything is purged into one.
    pub tower: Option<Tower>,
    /// What the order is worth.
    pub proof: Proof,
    /// Swaps there would be if each layer were all of the slot that has most of it: colour changed at layers only.
    pub swaps_at_layers: usize,
    /// Slot in each place of the machine at the start, from place 1; empty if every slot has a place.
    pub start: Vec<u8>,
    /// Spools that a person puts in on the way, in order.
    pub reloads: Vec<PlanReload>,
    /// Whether no plan has fewer reloads.
    pub is_fewest_reloads: bool,
    /// What no plan has fewer reloads than.
    pub least_reloads: usize,
    /// Whether each slot prints through all of its layers before the next one begins. Then all purge is pressed out by hand.
    pub is_by_passes: bool,
    /// Two slots of which neither can go first, if passes were asked for; from 0.
    #[serde(skip)]
    pub colliding: Option<(u8, u8)>,
}

/// One layer of a plan.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    /// Plastic that keeps the tower standing, beside what is purged into it, mm³.
    pub tower_mm3: f64,
    /// The slot that it comes from: the one loaded when the layer begins.
    pub tower_slot: u8,
    /// Slots that only print what takes purge here, and the slot that prints for them what no purge does.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    #[cfg_attr(feature = "wire", ts(type = "Record<string, number>", optional))]
    pub lent: BTreeMap<u8, u8>,
    /// Time with everything, s.
    pub seconds: f64,
}

/// One change of filament.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    /// Of that, what is due to another plastic or another temperature, mm³.
    pub extra_mm3: f64,
    /// Where it goes.
    pub split: PurgeSplit,
    /// What of it is wasted, g.
    pub waste_g: f64,
    /// Time with purging, heating and reloading, s.
    pub seconds: f64,
    /// Of that, waiting for the nozzle to heat or cool, s.
    pub heat_s: f64,
    /// Whether a person puts the spool in first.
    pub is_reload: bool,
    /// Keys of the regions that ask for the new slot in this layer.
    pub regions: Vec<String>,
}

/// Where the purge of a swap goes, mm³.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PurgeSplit {
    /// Printed as a piece of the model: as infill, or as what is marked to take purge.
    pub infill_mm3: f64,
    /// Of that, as what is marked to take purge.
    pub marked_mm3: f64,
    /// Into the tower.
    pub tower_mm3: f64,
    /// Into a bin.
    pub bin_mm3: f64,
    /// Pressed out by hand.
    pub hand_mm3: f64,
}

impl PurgeSplit {
    /// All that does not end in the model, mm³.
    pub fn waste_mm3(&self) -> f64 {
        self.tower_mm3 + self.bin_mm3 + self.hand_mm3
    }
}

/// A spool put in by hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PlanReload {
    /// Layer before whose swap to `slot` it is done, from 0.
    pub layer: usize,
    /// Place of the machine, from 1.
    pub place: u8,
    /// Slot whose spool is taken out.
    pub out: u8,
    /// Slot whose spool is put in.
    pub slot: u8,
}

/// A run of layers whose swaps have one reason.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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
    /// Purge that became infill, g; counted in the model, not in the purge.
    pub infill_g: f64,
    /// Times a person has to come: swaps by hand, or reloads.
    pub hand_swaps: usize,
    /// A person's time for them, s.
    pub hand_s: f64,
    /// What the time is made of.
    pub times: Times,
}

/// What the printing time is made of, s.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Times {
    /// Levelling, heating up and priming at the start.
    pub start_s: f64,
    /// Walls and skins.
    pub walls_s: f64,
    /// Sparse infill.
    pub infill_s: f64,
    /// Lifting and travelling from layer to layer.
    pub layers_s: f64,
    /// What keeps the tower standing.
    pub tower_s: f64,
    /// Cutting, pulling and loading.
    pub swaps_s: f64,
    /// Pressing the old filament out.
    pub purging_s: f64,
    /// Waiting for the nozzle to heat or cool.
    pub heating_s: f64,
    /// Spools put in by hand.
    pub reloads_s: f64,
}

impl Times {
    /// All of it, s.
    pub fn sum(&self) -> f64 {
        self.start_s
            + self.walls_s
            + self.infill_s
            + self.layers_s
            + self.tower_s
            + self.swaps_s
            + self.purging_s
            + self.heating_s
            + self.reloads_s
    }
}

/// What one slot gives.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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

impl SlotNeed {
    /// All of it, g.
    pub fn grams(&self) -> f64 {
        self.model_g + self.purge_g + self.tower_g
    }
}

/// What one region takes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
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

/// What of a region is too thin to print from its own slot: narrower than 0.6 lines, or less than one line's bead.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct ThinTotal {
    /// Key of the region.
    pub region: String,
    /// Key of the region that prints it instead; none if it is not printed at all.
    pub to: Option<String>,
    /// Layers in which there is any.
    pub layers: usize,
    /// The first of them, from 0.
    pub first_layer: usize,
    /// The last of them, from 0.
    pub last_layer: usize,
    /// Its volume inside the model, mm³.
    pub volume_mm3: f64,
}

/// One pair of slots that is swapped.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct PairRinse {
    /// Slot unloaded.
    pub from: u8,
    /// Slot loaded.
    pub to: u8,
    /// How often.
    pub times: usize,
    /// What one of its swaps purges, mm³; the most, where regions have tolerances of their own.
    pub purge_mm3: f64,
    /// The same as length of 1.75 mm filament, mm.
    pub purge_mm: f64,
    /// Of that, what is due to another plastic or temperature, mm³.
    pub extra_mm3: f64,
    /// Difference that is left at the volume purged.
    pub delta_e: f64,
    /// Whether the maker set the volume.
    pub is_set: bool,
    /// How it washes out.
    pub rinse: Rinse,
}

/// The purge tower.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Tower {
    /// Side of its square footprint, mm.
    pub side_mm: f64,
    /// Height: the top of the last layer with a swap, mm.
    pub height_mm: f64,
    /// Middle of its footprint, where the drawing of a layer has the models; none if the bed has no room for it.
    pub at: Option<[f64; 2]>,
    /// Height over side: above 10 it is made wider.
    pub slenderness: f64,
    /// Whether it is wider than its purge needs, so that it stands.
    pub is_widened: bool,
    /// Layers that build it only to keep it growing.
    pub idle_layers: usize,
}

/// What the order is worth: its cost beside that of orders found without thinking ahead.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Proof {
    /// What is counted: `mm³`, `s`, `swaps` or `points`.
    pub unit: &'static str,
    /// The order of the plan.
    pub chosen: f64,
    /// What no plan under the same rules, with as few reloads, costs less than.
    pub least: f64,
    /// Whether the plan costs just that: no plan is better. Else it is the best that was found.
    pub is_least: bool,
    /// Always the cheapest next slot.
    pub greedy: f64,
    /// Slots in number order in every layer.
    pub number_order: f64,
}
