//! How far a region's colour goes in.

use super::apply::{check_soak, refuse};
use crate::limits::SOAK;
use crate::{Problem, counted, figure};
use serde::{Deserialize, Serialize};

/// Soak depth of a new region in mm: two walls of 0.4 mm (common practice, no source).
const DEFAULT_MM: f64 = 0.8;

/// How far a region's colour goes in below the surface.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", tag = "by")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum SoakDepth {
    /// A length.
    Mm {
        /// In mm.
        mm: f64,
    },
    /// Layers, whatever they are high.
    Layers {
        /// How many.
        layers: u32,
    },
    /// All the way: to where other surface is nearer.
    Through,
}

impl Default for SoakDepth {
    fn default() -> Self {
        SoakDepth::Mm { mm: DEFAULT_MM }
    }
}

impl SoakDepth {
    /// The depth that an edit asks for: one of a length, layers, and right through.
    ///
    /// # Errors
    /// `soak-out-of-range`; `soak-unclear` if it asks for none or for several.
    pub(super) fn asked(
        soak_mm: Option<f64>,
        layers: Option<u32>,
        through: bool,
    ) -> Result<SoakDepth, Problem> {
        match (soak_mm, layers, through) {
            (Some(mm), None, false) => {
                check_soak(mm)?;
                Ok(SoakDepth::Mm { mm })
            }
            (None, Some(layers), false) => {
                const MOST: u32 = 500;
                if (1..=MOST).contains(&layers) {
                    return Ok(SoakDepth::Layers { layers });
                }
                let message = format!(
                    "A depth of {} cannot be used",
                    counted(layers as usize, "layer")
                );
                let mend = format!("Type 1 to {MOST} layers.");
                Err(refuse("soak-out-of-range", message, "layers", &mend))
            }
            (None, None, true) => Ok(SoakDepth::Through),
            _ => Err(refuse(
                "soak-unclear",
                "The depth is told in no way, or in several",
                "soak_mm",
                "Give a depth in mm, or in layers, or say right through.",
            )),
        }
    }

    /// The depth in mm for layers of a height; infinite right through.
    pub fn mm(self, layer_mm: f64) -> f64 {
        match self {
            SoakDepth::Mm { mm } => mm,
            SoakDepth::Layers { layers } => (f64::from(layers) * layer_mm).min(SOAK.high),
            SoakDepth::Through => f64::INFINITY,
        }
    }

    /// Whether it goes right through.
    pub fn is_through(self) -> bool {
        self == SoakDepth::Through
    }

    /// In words that go on after "soak in".
    pub(super) fn in_words(self) -> String {
        match self {
            SoakDepth::Mm { mm } => format!("{} mm", figure(mm)),
            SoakDepth::Layers { layers } => counted(layers as usize, "layer"),
            SoakDepth::Through => "right through".into(),
        }
    }
}
