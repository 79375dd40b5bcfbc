//! How a printer prints, beside what it is.

use super::Passages;
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

/// A set of settings that is ready to print with.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum ReadySet {
    /// Tall layers, fast walls.
    Quick,
    /// Layers half as tall as the nozzle is wide.
    #[default]
    Standard,
    /// Low layers, slow walls.
    Fine,
}

/// How a printer prints. Usual values are common practice, no source.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Printing {
    /// The ready set it began with.
    pub ready: ReadySet,
    /// Where closed walls begin.
    pub seam: Seam,
    /// Whether the wall that is seen is laid before those behind it.
    pub walls_outside_in: bool,
    /// How solid layers are filled.
    pub skin: SkinFill,
    /// Whether tops are gone over once more with a hot nozzle.
    pub smooth_tops: bool,
    /// How the sparse inside is filled.
    pub sparse: SparseFill,
    /// Speed of the wall that is seen as a share of that of walls, 0.2 to 1.
    pub outer_wall_speed: f64,
    /// Speed of everything on the first layer, mm/s.
    pub first_layer_mm_s: f64,
    /// Speed of small islands on the first layer, mm/s.
    pub island_mm_s: f64,
    /// Width of lines on the first layer as a share of the line width.
    pub first_layer_width: f64,
    /// Share of the due plastic that the first layer gets.
    pub first_layer_flow: f64,
    /// By how much the first layer is drawn in along its outline, mm.
    pub foot_mm: f64,
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
    /// Where that line begins, mm from the left and the front of the bed.
    pub prime_at_mm: [f64; 2],
    /// Front left corner of the square, 10 mm wide, into which purge is pressed where there is a bin; none for the back right corner
    /// of the bed.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional = nullable))]
    pub bin_at_mm: Option<[f64; 2]>,
    /// Whether what hangs is held up.
    pub supports: bool,
    /// How far from upright a side may lean without being held, degrees.
    pub support_angle_deg: f64,
    /// Layers left free below what is held.
    pub support_gap_layers: u32,
    /// How far supports keep off the print, mm.
    pub support_gap_mm: f64,
    /// Share of supports that is filled, 0 to 1.
    pub support_share: f64,
    /// Speed of rows that hang between two sides, mm/s.
    pub bridge_mm_s: f64,
    /// Speed of travel, mm/s.
    pub travel_mm_s: f64,
    /// Whether travel goes around holes and bays over what is printed.
    pub stays_inside: bool,
    /// Filament pulled back before a travel, mm.
    pub retract_mm: f64,
    /// How fast, mm/s.
    pub retract_mm_s: f64,
    /// Travels up to this length do without, mm.
    pub short_travel_mm: f64,
    /// How far the nozzle goes on along what it has laid, once it has pulled back, mm.
    pub wipe_mm: f64,
    /// How high the nozzle is lifted for a travel that pulls back, mm.
    pub lift_mm: f64,
    /// Height from which on it is lifted, mm.
    pub lift_from_mm: f64,
    /// Height up to which it is lifted, mm.
    pub lift_to_mm: f64,
    /// Whether it is lifted only where the way leads over another colour that is laid already in the layer.
    pub lift_over_colours: bool,
    /// Acceleration, mm/s².
    pub acceleration_mm_s2: f64,
    /// How far a corner may be cut, which sets its speed, mm.
    pub junction_mm: f64,
    /// The least time a layer takes: what is quicker is slowed down, s.
    pub least_layer_s: f64,
    /// Share of the fan's full speed, 0 to 1.
    pub fan: f64,
    /// The first layer it runs on, from 1.
    pub fan_from_layer: u32,
    /// Share of its full speed while rows hang between two sides, 0 to 1.
    pub bridge_fan: f64,
    /// Bed temperature, °C; none for what the plastics need.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional = nullable))]
    pub bed_c: Option<f64>,
    /// By how much a tool that stands is cooled, °C.
    pub standby_c: f64,
    /// Most plastic a second, mm³: what would need more is slowed down.
    pub most_flow_mm3_s: f64,
    /// Word that makes the printer wait for a person.
    pub pause_word: String,
    /// Pattern of the names of print files; see [`super::FILE_NAME_VALUES`].
    pub file_name: String,
    /// Lines of the maker's own.
    pub passages: Passages,
}

impl Printing {
    /// Square of the speed at which a corner is passed, mm²/s², from the sine of half the angle between what goes in and what goes out.
    pub fn corner_speed2(&self, half: f64) -> f64 {
        self.acceleration_mm_s2 * self.junction_mm * half / (1.0 - half)
    }

    /// Time of a straight way that begins and ends at one speed and goes no faster than another, s.
    pub fn leg_s(&self, mm: f64, at_ends_mm_s: f64, most_mm_s: f64) -> f64 {
        let a = self.acceleration_mm_s2;
        let top = (a * mm + at_ends_mm_s * at_ends_mm_s).sqrt().min(most_mm_s);
        if mm <= 0.0 || top <= 0.0 {
            return 0.0;
        }
        let ramps_mm = (top * top - at_ends_mm_s * at_ends_mm_s) / a;
        2.0 * (top - at_ends_mm_s) / a + (mm - ramps_mm).max(0.0) / top
    }
}

impl Default for Printing {
    fn default() -> Self {
        Printing {
            ready: ReadySet::Standard,
            seam: Seam::Nearest,
            walls_outside_in: false,
            skin: SkinFill::Rows,
            smooth_tops: false,
            sparse: SparseFill::Rows,
            outer_wall_speed: 0.7,
            first_layer_mm_s: 20.0,
            island_mm_s: 15.0,
            first_layer_width: 1.0,
            first_layer_flow: 1.0,
            foot_mm: 0.0,
            skirt_lines: 1,
            skirt_gap_mm: 3.0,
            brim_lines: 0,
            brim_gap_mm: 0.0,
            prime_line_mm: 60.0,
            prime_at_mm: [5.0, 3.0],
            bin_at_mm: None,
            supports: false,
            support_angle_deg: 55.0,
            support_gap_layers: 1,
            support_gap_mm: 0.6,
            support_share: 0.15,
            bridge_mm_s: 25.0,
            travel_mm_s: 150.0,
            stays_inside: true,
            retract_mm: 0.8,
            retract_mm_s: 35.0,
            short_travel_mm: 2.0,
            wipe_mm: 0.0,
            lift_mm: 0.2,
            lift_from_mm: 0.0,
            lift_to_mm: 5000.0,
            lift_over_colours: false,
            acceleration_mm_s2: 1500.0,
            junction_mm: 0.02,
            least_layer_s: 6.0,
            fan: 1.0,
            fan_from_layer: 2,
            bridge_fan: 1.0,
            bed_c: None,
            standby_c: 40.0,
            most_flow_mm3_s: 12.0,
            pause_word: "M0".into(),
            file_name: super::file_names::USUAL.into(),
            passages: Passages::default(),
        }
    }
}

impl Printing {
    /// Whether all of it is usual.
    pub fn is_usual(&self) -> bool {
        *self == Printing::default()
    }
}
