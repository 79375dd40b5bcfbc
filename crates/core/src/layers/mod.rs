//! The ownership rule, layer by layer: which region every point of the print belongs to, and how much plastic that
//! takes.
//!
//! Inside the model a point belongs to (1) the part that claims it, higher parts first; (2) in that part, the region
//! whose surface is nearest, if it is no further than the region's soak depth; else (3) the part's own region. A
//! layer is cut at its middle.
//!
//! The work is in two steps. [`survey`] looks at the shape only: it lays a square grid over every layer and notes for
//! each cell near the surface how much of it is inside, how much is printed solid, and which facet is nearest. It
//! does not know about regions, so no recolouring ever repeats it. [`label`] then reads the region of each cell off
//! its nearest facet; that is what runs after every edit. For regions that go right through, [`Deep`] says whose surface is nearest
//! beyond the reach of the survey.

mod body;
mod border;
mod border_lines;
mod claimed;
mod core_cells;
mod deep;
mod drawing;
mod faces;
mod features;
mod feet;
mod field;
mod grid;
mod index;
mod kept;
mod label;
mod nearest;
mod outline;
mod painted;
mod raster;
mod section;
mod skins;
mod span;
mod survey;
mod surveying;
mod thin;
mod touched;
mod zone;

pub use body::{Body, Settings, Shape};
pub use deep::Deep;
pub use drawing::{CellKind, CellRun, LayerDrawing, draw_layer};
pub use faces::{LayerFaces, faces, faces_of};
pub use grid::{LayerHeights, PrintGrid, TIE_MM};
pub use label::{Claims, LayerShare, RegionShare, label, label_all, label_between};
pub use section::{Segment, section};
pub use skins::{Skin, skins};
pub use span::Span;
pub use survey::{Cell, Survey};
pub use surveying::{Stopped, survey, survey_after};
pub use thin::{LEAST_LINES, TooThin};
pub use touched::Touched;
