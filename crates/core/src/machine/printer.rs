//! Printers: what kind of machine, and the settings it prints with.

use super::{BaseMaterial, MachineKind, Printing};
use crate::rinse::{Measured, MeltZone};
use serde::{Deserialize, Serialize};

/// A printer of some kind, and the settings it prints with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Printer {
    /// What the maker calls it.
    pub name: String,
    /// What kind of machine it is.
    pub kind: MachineKind,
    /// Where it answers on the network, such as `http://127.0.0.1:7500`; empty if it cannot be asked.
    pub address: String,
    /// Filaments it can tell apart in one job, 1 to 16: slots of a feeder or a splicer, tools, spools put in by hand,
    /// mixtures of a mixing nozzle.
    pub slots: u8,
    /// Printable size in mm: x, y, z.
    pub bed_mm: [f64; 3],
    /// Nozzle bore in mm.
    pub nozzle_mm: f64,
    /// Width of a printed line in mm.
    pub line_width_mm: f64,
    /// Height of the first layer in mm.
    pub first_layer_mm: f64,
    /// Height of every other layer in mm.
    pub layer_mm: f64,
    /// Lines around every outline.
    pub walls: u32,
    /// Lines along either side of every border between colours inside: without any, a colour's end lies loose on sparse infill.
    pub border_walls: u32,
    /// Solid layers below every upward face.
    pub top_skins: u32,
    /// Solid layers above every downward face.
    pub bottom_skins: u32,
    /// Filled share of the inside, 0 to 1.
    pub infill: f64,
    /// Speed of walls and skins, mm/s.
    pub wall_speed_mm_s: f64,
    /// Speed of infill, mm/s.
    pub infill_speed_mm_s: f64,
    /// Time lost per layer to lifting and travelling, s.
    pub layer_change_s: f64,
    /// Time of a swap without its purge: cutting, pulling, loading, s.
    pub swap_s: f64,
    /// Flow while purging, mm³/s.
    pub purge_mm3_s: f64,
    /// The melt zone of the nozzle.
    pub melt: MeltZone,
    /// CIEDE2000 difference that counts as clean after a swap.
    pub tolerance: f64,
    /// What a swap purges at least, however alike the colours, mm³; none for half the melt zone.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional = nullable))]
    pub least_flush_mm3: Option<f64>,
    /// Pressed out after a change of tools, mm³: a tool that stood still has oozed.
    pub prime_mm3: f64,
    /// What oozes out of a tool that stands hot, mm³ a minute, until what it holds is gone.
    pub ooze_mm3_min: f64,
    /// Spools it holds at a time; 0 if it holds one for every slot. With fewer places than a job has slots, spools are put
    /// in by hand on the way.
    pub holds: u8,
    /// Time until a person has put another spool in, s.
    pub reload_s: f64,
    /// How fast the nozzle heats and cools, °C a second.
    pub heat_c_s: f64,
    /// How far around the nozzle what hangs just above it reaches, such as a duct, mm, and how high above the nozzle's tip it hangs, mm.
    pub duct_radius_mm: f64,
    /// See `duct_radius_mm`.
    pub duct_above_mm: f64,
    /// The same of the head.
    pub head_radius_mm: f64,
    /// See `duct_radius_mm`.
    pub head_above_mm: f64,
    /// How high above the nozzle's tip the rails are that the head runs on, mm: nothing may stand higher anywhere.
    pub rails_above_mm: f64,
    /// Which sheet has to lie on its bed, such as `textured`; empty where any does.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<String>"))]
    pub sheet: String,
    /// How much the bin holds into which purge is pressed, cm³; 0 if nobody knows.
    pub bin_cm3: f64,
    /// Levelling, heating up and priming before a print starts, s.
    pub start_s: f64,
    /// What it really takes to print, as a share of what speeds and volumes come to: above 1 for most printers, which slow
    /// down in corners. From one print whose time is known.
    pub time_factor: f64,
    /// What a jetting machine builds parts of, the usual one first.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<Vec<BaseMaterial>>"))]
    pub materials: Vec<BaseMaterial>,
    /// Rinses that the melt zone was fitted to.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<Vec<Measured>>"))]
    pub rinses: Vec<Measured>,
    /// How it prints.
    #[serde(skip_serializing_if = "Printing::is_usual")]
    #[cfg_attr(feature = "wire", ts(optional, as = "Option<Printing>"))]
    pub printing: Box<Printing>,
}

impl Default for Printer {
    /// A generic feeder printer: one 0.4 mm nozzle, four slots, 0.2 mm layers (common practice, no source).
    fn default() -> Self {
        Printer {
            name: "Four-slot feeder, one 0.4 mm nozzle".into(),
            kind: MachineKind::Feeder,
            address: String::new(),
            slots: 4,
            bed_mm: [220.0, 220.0, 240.0],
            nozzle_mm: 0.4,
            line_width_mm: 0.4,
            first_layer_mm: 0.2,
            layer_mm: 0.2,
            walls: 2,
            border_walls: 1,
            top_skins: 4,
            bottom_skins: 4,
            infill: 0.15,
            wall_speed_mm_s: 60.0,
            infill_speed_mm_s: 90.0,
            layer_change_s: 2.0,
            swap_s: 35.0,
            purge_mm3_s: 8.0,
            melt: MeltZone {
                volume_mm3: 48.0,
                tanks: 1,
            },
            tolerance: 2.0,
            least_flush_mm3: None,
            prime_mm3: 8.0,
            ooze_mm3_min: 1.0,
            holds: 0,
            reload_s: 120.0,
            heat_c_s: 2.0,
            duct_radius_mm: 10.0,
            duct_above_mm: 2.0,
            head_radius_mm: 35.0,
            head_above_mm: 8.0,
            rails_above_mm: 40.0,
            sheet: String::new(),
            bin_cm3: 0.0,
            start_s: 150.0,
            time_factor: 1.0,
            materials: Vec::new(),
            rinses: Vec::new(),
            printing: Box::default(),
        }
    }
}

/// Something that hangs over the bed beside the nozzle and goes where it goes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HeadPart {
    /// What it is, as the maker reads it.
    pub what: &'static str,
    /// How far it reaches around the nozzle, mm; infinite for all of the bed.
    pub radius_mm: f64,
    /// How high it hangs above the nozzle's tip, mm.
    pub above_mm: f64,
}

impl Printer {
    /// What hangs over the bed beside the nozzle, the lowest first in most printers.
    pub fn head(&self) -> [HeadPart; 3] {
        let part = |what, radius_mm, above_mm| HeadPart {
            what,
            radius_mm,
            above_mm,
        };
        [
            part("the duct", self.duct_radius_mm, self.duct_above_mm),
            part("the head", self.head_radius_mm, self.head_above_mm),
            part("a rail", f64::INFINITY, self.rails_above_mm),
        ]
    }

    /// How high the lowest of that hangs above the nozzle's tip, mm.
    pub fn clear_mm(&self) -> f64 {
        let parts = self.head().into_iter().map(|p| p.above_mm);
        parts.fold(f64::INFINITY, f64::min)
    }

    /// What a swap purges at least, mm³. Half the melt zone unless told: the old filament leaves the nozzle's bore before the new
    /// one has pushed through (common practice, no source).
    pub fn least_flush(&self) -> f64 {
        self.least_flush_mm3.unwrap_or(0.5 * self.melt.volume_mm3)
    }
}
