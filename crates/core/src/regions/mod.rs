//! What selects surface: patches and reliefs by shape, strokes, bands and outlines by place, and what is alike; the
//! borders and strays of regions.

mod bands;
mod borders;
mod congruent;
mod flood;
mod lasso;
mod makes;
mod paths;
mod relief;
mod speckle;
mod strays;
mod strokes;
mod tones;

pub use bands::BandField;
pub(crate) use borders::facets_beside;
pub use borders::{BorderLine, border_of};
pub use congruent::{Twin, congruent_parts};
pub use flood::{Limits, Within};
pub use lasso::{LassoError, LassoField, Sight};
pub use makes::alike_patches;
pub use paths::PathField;
pub use speckle::SpeckleField;
pub use strays::{Stray, StrayKind, find_strays};
pub use strokes::{Reach, Stroke};
pub use tones::{Tone, sky, tone_values};
pub(crate) use tones::{level_line, value_at};
