//! What a rehearsal comes to.

use serde::Serialize;

/// The worst of what shows in another colour than it should.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Stain {
    /// CIEDE2000 difference to what should have been laid there.
    pub delta_e: f64,
    /// Layer, from 0.
    pub layer: usize,
    /// Slot that should have been laid, from 1.
    pub slot: u8,
    /// Where on the bed, mm.
    pub at: [f64; 2],
    /// Line of the file.
    pub line: u32,
}

/// What a rehearsal comes to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Verdict {
    /// The worst in sight, if anything is off at all.
    pub worst: Option<Stain>,
    /// The difference that counts as clean.
    pub tolerance: f64,
    /// Layers in which something in sight is beyond that.
    pub stained_layers: usize,
    /// Times that the nozzle met what stands.
    pub touched: usize,
    /// Lines of the file where it did first, at most five.
    pub touched_lines: Vec<u32>,
    /// Slots that ran out, in order.
    pub ran_out: Vec<u8>,
    /// Changes that were made.
    pub swaps: usize,
    /// Of those, made in the planned order to the planned slot.
    pub swaps_as_planned: usize,
    /// Planned changes.
    pub swaps_planned: usize,
    /// Beads, mm, that should have been laid while nothing came out.
    pub missing_mm: f64,
    /// How far aside the last of it was laid, mm.
    pub aside_mm: f64,
    /// Plastic fed into a nozzle that was cold, mm³.
    pub cold_mm3: f64,
    /// How long it took, s.
    pub time_s: f64,
    /// How long it was planned to take, s.
    pub planned_s: f64,
    /// Plastic that left each slot, g, from slot 1 on.
    pub used_g: Vec<f64>,
    /// Whether it ended as it should: all of it printed, nothing met, no stain in sight, changes as planned.
    pub is_good: bool,
}
