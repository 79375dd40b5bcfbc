//! What travels about parts: meetings, what an edit would make, the depths of a region.

use serde::{Deserialize, Serialize};
use ts_rs::TS;
use utoipa::ToSchema;
use varichrom_core::Problem;
use varichrom_core::job::{InlayFacts, PartEdit, PartMeeting};

/// Which parts meet, or how far the search is.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
#[serde(tag = "state", rename_all = "kebab-case")]
pub(crate) enum MeetingsView {
    /// Being worked out.
    Working {
        /// Finished share, 0 to 1.
        done: f64,
    },
    /// Stopped on request.
    Stopped,
    /// Ready.
    Ready {
        /// The pairs, those that share volume first.
        pairs: Vec<PairView>,
        /// Parts of which it cannot be told, because their surface is open.
        unknown: Vec<OpenPartView>,
    },
}

/// The closed bodies that the print would go out as.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct BodiesView {
    /// By part, highest rank first.
    pub bodies: Vec<BodyView>,
    /// Volumes by region, beside those of the plan.
    pub sums: Vec<BodySum>,
    /// What is not as it was asked for.
    pub told: Vec<Problem>,
}

/// What the bodies of one region hold together.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct BodySum {
    /// Key of the region.
    pub region: String,
    /// Volume of its bodies, mm³.
    pub bodies_mm3: f64,
    /// Its volume in the layers of the plan, mm³; none while there is no plan.
    pub plan_mm3: Option<f64>,
}

/// One closed body.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct BodyView {
    /// Name of its part.
    pub part: String,
    /// Key of its region.
    pub region: String,
    /// How many facets its surface has.
    pub facets: usize,
    /// Volume, mm³.
    pub volume_mm3: f64,
    /// Whether its surface encloses it without a gap.
    pub is_closed: bool,
}

/// A part whose surface is open.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct OpenPartView {
    /// Key of the part.
    pub part: u32,
    /// A place of the gap, mm; none if the surface encloses nothing.
    pub at: Option<[f64; 3]>,
}

/// Two parts that meet.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct PairView {
    /// Keys of the two; the first owns what they share, or lies within the second.
    pub parts: [u32; 2],
    /// How they meet.
    pub meeting: PartMeeting,
    /// A place where they do, mm.
    pub at: [f64; 3],
}

/// An edit of parts to look at before it is made.
#[derive(Debug, Clone, PartialEq, Deserialize, TS, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct TryParts {
    /// The edit.
    pub edit: PartEdit,
}

/// What an edit of parts would make.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct TriedParts {
    /// The parts that are new or changed, new ones first.
    pub parts: Vec<TriedPart>,
    /// Corners of the new parts' facets, nine numbers each, mm; empty if there are too many to show.
    pub corners: Vec<f32>,
    /// For an inlay: its depth, layers and narrowest place.
    pub inlay: Option<InlayFacts>,
    /// How many other parts have the shape of the one named.
    pub alike: usize,
}

/// A part that an edit would make.
#[derive(Debug, Clone, PartialEq, Serialize, TS, ToSchema)]
pub(crate) struct TriedPart {
    /// Its name.
    pub name: String,
    /// Number of its own region.
    pub own: u16,
    /// Whether there is no such part yet.
    pub is_new: bool,
    /// Volume, mm³.
    pub volume_mm3: f64,
    /// Separate shells.
    pub pieces: usize,
    /// Size, mm.
    pub size_mm: [f64; 3],
}
