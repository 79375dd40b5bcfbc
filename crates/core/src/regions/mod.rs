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
mod strays;
mod strokes;

pub use bands::BandField;
pub(crate) use borders::facets_beside;
pub use borders::{BorderLine, border_of};
pub use congruent::{Twin, congruent_parts};
pub use flood::{Limits, Within};
pub use lasso::{LassoError, LassoField, Sight};
pub use makes::alike_patches;
pub use paths::PathField;
pub use strays::{Stray, StrayKind, find_strays};
pub use strokes::{Reach, Stroke};
