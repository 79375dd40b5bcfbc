//! How a printer prints, beside what it is.

use serde::{Deserialize, Serialize};

/// Where a closed wall begins and ends.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Seam {
    /// Where the nozzle is.
    #[default]
    Nearest,
    /// At the back of the bed.
    Behind,
    /// Nearest to a place, mm, where the layers have it.
    At {
        /// The place.
        at: [f64; 2],
    },
    /// Somewhere else on every layer.
    Scattered,
}

/// How solid layers are filled.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum SkinFill {
    /// Straight rows, across on every other layer.
    #[default]
    Rows,
    /// Lines that follow the edge.
    Contour,
}

/// How the sparse inside is filled.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum SparseFill {
    /// Straight rows, across on every other layer.
    #[default]
    Rows,
    /// Lines that follow the edge.
    Contour,
    /// A gyroid.
    Gyroid,
}

/// How a printer prints. Usual values are common practice, no source.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Printing {
    /// Where closed walls begin.
    pub seam: Seam,
    /// Whether the wall that is seen is laid before those behind it.
    pub walls_outside_in: bool,
    /// How solid layers are filled.
    pub skin: SkinFill,
    /// How the sparse inside is filled.
    pub sparse: SparseFill,
    /// Speed of the wall that is seen as a share of that of walls, 0.2 to 1.
    pub outer_wall_speed: f64,
    /// Speed of everything on the first layer, mm/s.
    pub first_layer_mm_s: f64,
    /// Lines around the first layer that touch nothing; none with a brim.
    pub skirt_lines: u32,
    /// How far off, mm.
    pub skirt_gap_mm: f64,
    /// Lines around the first layer that hold it on the bed.
    pub brim_lines: u32,
    /// How far off, mm.
    pub brim_gap_mm: f64,
    /// Length of the line laid before the print begins, along the front of the bed, mm; 0 for none.
    pub prime_line_mm: f64,
    /// Speed of travel, mm/s.
    pub travel_mm_s: f64,
    /// Filament pulled back before a travel, mm.
    pub retract_mm: f64,
    /// How fast, mm/s.
    pub retract_mm_s: f64,
    /// Travels up to this length do without, mm.
    pub short_travel_mm: f64,
    /// How high the nozzle is lifted for a travel that pulls back, mm.
    pub lift_mm: f64,
    /// Acceleration, mm/s².
    pub acceleration_mm_s2: f64,
    /// How far a corner may be cut, which sets its speed, mm.
    pub junction_mm: f64,
    /// The least time a layer takes: what is quicker is slowed down, s.
    pub least_layer_s: f64,
    /// Share of the fan's full speed from the second layer on, 0 to 1.
    pub fan: f64,
    /// Bed temperature, °C.
    pub bed_c: f64,
    /// By how much a tool that stands is cooled, °C.
    pub standby_c: f64,
    /// Most plastic a second, mm³: what would need more is slowed down.
    pub most_flow_mm3_s: f64,
    /// Word that makes the printer wait for a person.
    pub pause_word: String,
}

impl Default for Printing {
    fn default() -> Self {
        Printing {
            seam: Seam::Nearest,
            walls_outside_in: false,
            skin: SkinFill::Rows,
            sparse: SparseFill::Rows,
            outer_wall_speed: 0.7,
            first_layer_mm_s: 20.0,
            skirt_lines: 1,
            skirt_gap_mm: 3.0,
            brim_lines: 0,
            brim_gap_mm: 0.0,
            prime_line_mm: 60.0,
            travel_mm_s: 150.0,
            retract_mm: 0.8,
            retract_mm_s: 35.0,
            short_travel_mm: 2.0,
            lift_mm: 0.2,
            acceleration_mm_s2: 1500.0,
            junction_mm: 0.02,
            least_layer_s: 6.0,
            fan: 1.0,
            bed_c: 60.0,
            standby_c: 40.0,
            most_flow_mm3_s: 12.0,
            pause_word: "M0".into(),
        }
    }
}

impl Printing {
    /// Whether all of it is usual.
    pub fn is_usual(&self) -> bool {
        *self == Printing::default()
    }
}
