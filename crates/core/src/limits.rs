//! From where to where numbers may be typed: each once, for the check, the sentence, the sliders and the command line.

use crate::{Problem, figure};

/// The range of a number that is typed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limit {
    /// The least.
    pub low: f64,
    /// The most.
    pub high: f64,
    /// What follows the number: a unit, or nothing.
    pub unit: &'static str,
    /// What the number is, as a sentence asks for it, such as `an angle`.
    what: &'static str,
    /// Code of the refusal.
    code: &'static str,
}

/// How far the surface may turn within a patch.
pub const CREASE: Limit = limit(1.0, 90.0, "°", "an angle", "crease-out-of-range");
/// Furthest turn from the facet that was clicked.
pub const TURN: Limit = limit(1.0, 180.0, "°", "an angle", "turn-out-of-range");
/// How far a region's colour goes in.
pub const SOAK: Limit = limit(0.05, 20.0, " mm", "a depth", "soak-out-of-range");
/// Half the width of a stroke.
pub const RADIUS: Limit = limit(0.05, 100.0, " mm", "a radius", "radius-out-of-range");
/// How far a region's edge is moved at once, outward or inward.
pub const EDGE_STEP: Limit = limit(0.05, 20.0, " mm", "a distance", "step-out-of-range");
/// Bands that are stacked by one edit.
pub const BANDS: Limit = limit(1.0, 500.0, "", "a number", "band-count");
/// Area below which spots are strays.
pub const STRAY_AREA: Limit = limit(0.0, 1e6, " mm²", "an area", "stray-size");
/// Width below which spots are strays.
pub const STRAY_WIDTH: Limit = limit(0.0, 10.0, " mm", "a width", "stray-size");
/// Colours that those of a file are brought together into.
pub const FILE_COLOURS: Limit = limit(1.0, 16.0, "", "a number", "colours-out-of-range");
/// Gap between pieces or models on the bed.
pub const SPACING: Limit = limit(0.0, 500.0, " mm", "a gap", "spacing-out-of-range");
/// Pieces each way on the bed.
pub const PIECES: Limit = limit(1.0, 50.0, "", "a number", "copies-out-of-range");
/// Copies of a model that are stood on the bed at once.
pub const COPIES: Limit = limit(1.0, 99.0, "", "a number", "copies-out-of-range");
/// How deep a region goes as a body.
pub const BODY_DEPTH: Limit = limit(0.01, 1000.0, " mm", "a depth", "depth-out-of-range");
/// How far a part is sunk.
pub const SINK: Limit = limit(0.001, 1000.0, " mm", "a depth", "depth-out-of-range");
/// Width of teeth between parts.
pub const TEETH: Limit = limit(0.5, 50.0, " mm", "a width", "teeth-out-of-range");
/// Gap that is left around an inlay.
pub const CLEARANCE: Limit = limit(0.0, 2.0, " mm", "a gap", "clearance-out-of-range");
/// CIEDE2000 difference that counts as clean.
pub const TOLERANCE: Limit = limit(0.1, 50.0, "", "a difference", "tolerance-out-of-range");
/// Depths of a region that are compared, in layers.
pub const DEPTH_ROWS: Limit = limit(1.0, 20.0, "", "a number", "depths-out-of-range");
/// What a pair of slots purges.
pub const CUT_OFF: Limit = limit(0.0, 5000.0, " mm³", "a volume", "purge-out-of-range");
/// Length pressed out by hand.
pub const BY_HAND: Limit = limit(0.0, 5000.0, " mm", "a length", "length-out-of-range");
/// How much of what lies behind it a part hides.
pub const OPACITY: Limit = limit(0.0, 1.0, "", "a share", "opacity-out-of-range");
/// Height of a layer of a stacked picture.
pub const STACK_MM: Limit = limit(0.02, 0.6, " mm", "a height", "stack-out-of-range");
/// Layers of the base of a stacked picture.
pub const STACK_BASE: Limit = limit(1.0, 50.0, "", "a number", "stack-out-of-range");
/// Layers on the base of a stacked picture.
pub const STACK_LAYERS: Limit = limit(1.0, 60.0, "", "a number", "stack-out-of-range");
/// How high a capital letter is.
pub const LETTERS: Limit = limit(1.0, 300.0, " mm", "a height", "letters-out-of-range");
/// What is added between letters.
pub const LETTER_SPACING: Limit = limit(-5.0, 50.0, " mm", "a gap", "letters-out-of-range");
/// Radius of the arc that words stand on.
pub const WORDS_ARC: Limit = limit(2.0, 900.0, " mm", "a radius", "letters-out-of-range");

/// How far a relief stands out, or lies below.
pub const RELIEF: Limit = limit(0.05, 100.0, " mm", "a height", "relief-out-of-range");
/// Width and height of an eye.
pub const EYE: Limit = limit(0.5, 200.0, " mm", "a size", "eye-out-of-range");
/// How far off what hides the sky may be, and how wide an edge is.
pub const TONE_REACH: Limit = limit(0.2, 500.0, " mm", "a distance", "tone-out-of-range");
/// How much of the surface a tone takes, from nothing to all.
pub const TONE_STRENGTH: Limit = limit(0.0, 1.0, "", "a share", "tone-out-of-range");
/// Width of a speckle.
pub const SPECKLE: Limit = limit(0.2, 50.0, " mm", "a width", "speckle-out-of-range");
/// How much of the surface speckles cover.
pub const SPECKLE_SHARE: Limit = limit(0.01, 0.5, "", "a share", "speckle-out-of-range");

/// All limits, by the name that programs know them by.
pub const LIMITS: [(&str, Limit); 33] = [
    ("crease", CREASE),
    ("turn", TURN),
    ("soak", SOAK),
    ("radius", RADIUS),
    ("edgeStep", EDGE_STEP),
    ("bands", BANDS),
    ("strayArea", STRAY_AREA),
    ("strayWidth", STRAY_WIDTH),
    ("fileColours", FILE_COLOURS),
    ("spacing", SPACING),
    ("pieces", PIECES),
    ("copies", COPIES),
    ("bodyDepth", BODY_DEPTH),
    ("teeth", TEETH),
    ("sink", SINK),
    ("clearance", CLEARANCE),
    ("tolerance", TOLERANCE),
    ("depthRows", DEPTH_ROWS),
    ("cutOff", CUT_OFF),
    ("byHand", BY_HAND),
    ("letters", LETTERS),
    ("letterSpacing", LETTER_SPACING),
    ("wordsArc", WORDS_ARC),
    ("relief", RELIEF),
    ("eye", EYE),
    ("toneReach", TONE_REACH),
    ("toneStrength", TONE_STRENGTH),
    ("speckle", SPECKLE),
    ("opacity", OPACITY),
    ("stackMm", STACK_MM),
    ("stackBase", STACK_BASE),
    ("stackLayers", STACK_LAYERS),
    ("speckleShare", SPECKLE_SHARE),
];

/// Refuses a crease angle that cannot be used; `place` names where it was given.
///
/// # Errors
/// `crease-out-of-range`.
pub fn check_crease(crease_deg: f64, place: &str) -> Result<(), Problem> {
    CREASE.check(crease_deg, place, |angle| {
        format!("A crease angle of {angle} cannot be used")
    })
}

const fn limit(
    low: f64,
    high: f64,
    unit: &'static str,
    what: &'static str,
    code: &'static str,
) -> Limit {
    Limit {
        low,
        high,
        unit,
        what,
        code,
    }
}

impl Limit {
    /// Whether a number may be typed.
    pub fn holds(&self, value: f64) -> bool {
        (self.low..=self.high).contains(&value)
    }

    /// Refuses a number that may not. `place` names the field; `message` is given the number with its unit and says what it
    /// cannot be.
    ///
    /// # Errors
    /// A [`Problem`] with this limit's code that names the range.
    pub fn check(
        &self,
        value: f64,
        place: &str,
        message: impl FnOnce(&str) -> String,
    ) -> Result<(), Problem> {
        if self.holds(value) {
            return Ok(());
        }
        let shown = format!("{}{}", figure(value), self.unit);
        Err(self.refused(message(&shown), place))
    }

    /// The refusal of a number that may not be typed.
    pub(crate) fn refused(&self, message: impl Into<String>, place: &str) -> Problem {
        let (low, high) = (figure(self.low), figure(self.high));
        let mend = format!("Type {} from {low} to {high}{}.", self.what, self.unit);
        Problem::new(self.code, message, place, mend)
    }
}

/// The limits as a module of TypeScript, for the sliders.
#[cfg(feature = "wire")]
pub fn limits_as_typescript() -> String {
    let mut text = String::from(
        "// This file was generated from crates/core/src/limits.rs. Do not edit this file manually.\n\n\
         /** From where to where numbers may be typed. */\nexport const limits = {\n",
    );
    for (name, limit) in LIMITS {
        text += &format!(
            "  {name}: {{ low: {}, high: {}, unit: {:?} }},\n",
            limit.low,
            limit.high,
            limit.unit.trim()
        );
    }
    text + "} as const;\n"
}
