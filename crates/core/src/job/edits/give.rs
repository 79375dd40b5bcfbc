//! Edits that give surface away: the tools of Colour.

use super::super::state::OWN_REGION;
use super::Touches;
use crate::drawing::{DrawingSource, Laying};
use crate::is_default;
use crate::model::Place;
use crate::regions::{Reach, Sight, Stroke, Tone, Within};
use crate::{counted, figure};
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// What Alike looks for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum AlikeTo {
    /// Copies of the part, turned or mirrored ones too.
    Parts,
    /// Patches of the same make.
    Patches,
}

fn one() -> u32 {
    1
}

fn is_one(count: &u32) -> bool {
    *count == 1
}

/// How far a band goes in.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum BandDepth {
    /// As deep as its region soaks.
    #[default]
    Skin,
    /// Right through: the whole cross-section.
    Through,
    /// Right through, but for the surface: that keeps its colours, as deep as they soak.
    Inside,
}

/// What a tool of Colour does: surface is given to a region. The region `own` stands for taking it back to each part's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum GiveEdit {
    /// Gives the patch at a place to a region.
    GivePatch {
        /// Which region.
        region: String,
        /// Anywhere on the patch.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
        /// How far it may go.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<Within>"))]
        within: Within,
        /// Furthest turn from the facet at the place, degrees.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        turn_deg: Option<f64>,
    },
    /// Gives a raised or sunken face with its walls to a region.
    GiveRelief {
        /// Which region.
        region: String,
        /// Anywhere on the face.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
        /// Also every other relief of the part at the same height.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        all: bool,
        /// Whether a region that had no surface yet goes right through, if the face is raised: so its colour ends with its walls.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        through: bool,
    },
    /// Gives what a stroke passes over to a region.
    GiveStroke {
        /// Which region.
        region: String,
        /// Only what is seen, or everything inside.
        reach: Reach,
        /// The stroke.
        stroke: Stroke,
    },
    /// Gives single facets to a region.
    GiveFacets {
        /// Which region.
        region: String,
        /// A place on each.
        at: Vec<Place>,
        /// Whether a flat face of many facets counts as one.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        flat: bool,
    },
    /// Gives everything between two heights to a region.
    GiveBand {
        /// Which region.
        region: String,
        /// One height above the bed, mm.
        low_mm: f64,
        /// The other.
        high_mm: f64,
        /// A place on the part it is kept to; left out, all parts.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        at: Option<Place>,
        /// Whether both heights move to the nearest border between layers.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        snap: bool,
        /// How many bands, one above the other; 1 if left out.
        #[serde(default = "one", skip_serializing_if = "is_one")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<u32>"))]
        count: u32,
        /// From one band to the next, mm.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
        pitch_mm: f64,
        /// Key of the region whose surface alone is given; left out, all surface.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        only: Option<String>,
        /// How far it goes in.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<BandDepth>"))]
        depth: BandDepth,
    },
    /// Gives everything from a layer on to a region: a band right through, open above.
    GiveChange {
        /// Which region.
        region: String,
        /// Bottom of the layer above the bed, mm; it moves to the nearest border between layers.
        from_mm: f64,
        /// The model it is kept to; left out, all of them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        model: Option<String>,
        /// A place on the part it is kept to; left out, all of them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        at: Option<Place>,
    },
    /// Gives what lies inside an outline on the screen to a region.
    GiveLasso {
        /// Which region.
        region: String,
        /// Corners of the outline as seen from the eye: how far to the right and up for each mm forward.
        outline: Vec<[f64; 2]>,
        /// From where it was drawn.
        sight: Sight,
        /// Whether it goes right through, or takes only what is seen.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        through: bool,
    },
    /// Gives the surface on which a drawing falls to regions, colour by colour.
    GiveDrawing {
        /// The drawing.
        drawing: DrawingSource,
        /// Where and how it lies.
        laying: Laying,
        /// Key of the region for each of its colours, in their order; none where the surface is left as it is.
        regions: Vec<Option<String>>,
        /// The model it is kept to; left out, all of them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        model: Option<String>,
    },
    /// Gives recesses, what looks up, or edges to a region.
    GiveTone {
        /// Which region.
        region: String,
        /// What is taken.
        tone: Tone,
        /// How much of it, from nothing to all.
        strength: f64,
        /// How far off what hides the sky may be, and how wide an edge is, mm.
        reach_mm: f64,
        /// Key of the region whose surface alone is given; left out, all surface.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        only: Option<String>,
        /// The model it is kept to; left out, all of them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        model: Option<String>,
    },
    /// Gives speckles strewn over the surface to a region.
    GiveSpeckles {
        /// Which region.
        region: String,
        /// How wide they are, about, mm.
        width_mm: f64,
        /// What share of the surface they cover, about.
        share: f64,
        /// Another number strews them otherwise.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<u32>"))]
        seed: u32,
        /// Key of the region whose surface alone is given; left out, all surface.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        only: Option<String>,
        /// The model it is kept to; left out, all of them.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        model: Option<String>,
    },
    /// Repeats a choice on what is alike.
    GiveAlike {
        /// Which region.
        region: String,
        /// On the part whose share of the region is repeated on its copies, or on the patch whose likes are given.
        at: Place,
        /// What is alike.
        to: AlikeTo,
        /// Crease angle of patches in degrees, 1 to 90.
        crease_deg: f64,
    },
    /// Moves a region's edge outward over its neighbours, or inward by a negative distance.
    GrowRegion {
        /// Which.
        region: String,
        /// How far, mm.
        by_mm: f64,
    },
    /// Smooths a region's edge: notches and teeth narrower than twice the distance go.
    SmoothRegion {
        /// Which.
        region: String,
        /// Distance, mm.
        by_mm: f64,
    },
    /// Exchanges a region's surface with that of the first region, which has whatever no other was given.
    InvertRegion {
        /// Which.
        region: String,
    },
    /// Gives all surface of the first region, which is whatever no other was given, to one.
    GiveRest {
        /// Which region.
        region: String,
    },
    /// Gives the spot at a place to the region it has the longest border with.
    GiveStray {
        /// Anywhere on the spot.
        at: Place,
    },
    /// Gives all small spots to the regions they have the longest border with.
    GiveStrays {
        /// Those smaller than this, mm².
        smaller_mm2: f64,
        /// And those narrower than this, mm.
        narrower_mm: f64,
    },
}

impl GiveEdit {
    /// Key of the region it gives surface to; none where there are several, or each spot goes to a neighbour.
    pub fn region(&self) -> Option<&str> {
        match self {
            GiveEdit::GivePatch { region, .. }
            | GiveEdit::GiveRelief { region, .. }
            | GiveEdit::GiveStroke { region, .. }
            | GiveEdit::GiveFacets { region, .. }
            | GiveEdit::GiveBand { region, .. }
            | GiveEdit::GiveChange { region, .. }
            | GiveEdit::GiveLasso { region, .. }
            | GiveEdit::GiveTone { region, .. }
            | GiveEdit::GiveSpeckles { region, .. }
            | GiveEdit::GiveAlike { region, .. }
            | GiveEdit::GrowRegion { region, .. }
            | GiveEdit::SmoothRegion { region, .. }
            | GiveEdit::InvertRegion { region }
            | GiveEdit::GiveRest { region } => Some(region),
            GiveEdit::GiveDrawing { regions, .. } => {
                let mut named = regions.iter().flatten();
                named
                    .next()
                    .filter(|_| named.next().is_none())
                    .map(String::as_str)
            }
            GiveEdit::GiveStray { .. } | GiveEdit::GiveStrays { .. } => None,
        }
    }

    /// Names of the contents that it takes.
    pub(super) fn contents(&self) -> Vec<&str> {
        let GiveEdit::GiveDrawing { drawing, .. } = self else {
            return Vec::new();
        };
        drawing.contents()
    }

    /// What it touches of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            GiveEdit::GiveBand {
                depth: BandDepth::Through | BandDepth::Inside,
                ..
            }
            | GiveEdit::GiveChange { .. }
            | GiveEdit::GiveRelief { through: true, .. } => Touches::Everything,
            GiveEdit::GiveBand { .. }
            | GiveEdit::GivePatch { .. }
            | GiveEdit::GiveRelief { .. }
            | GiveEdit::GiveAlike { .. }
            | GiveEdit::GiveStray { .. }
            | GiveEdit::GiveFacets { .. }
            | GiveEdit::GiveStroke { .. }
            | GiveEdit::GiveLasso { .. }
            | GiveEdit::GiveDrawing { .. }
            | GiveEdit::GiveTone { .. }
            | GiveEdit::GiveSpeckles { .. }
            | GiveEdit::GrowRegion { .. }
            | GiveEdit::SmoothRegion { .. }
            | GiveEdit::InvertRegion { .. }
            | GiveEdit::GiveRest { .. }
            | GiveEdit::GiveStrays { .. } => Touches::Surface,
        }
    }

    /// The place it names.
    pub(super) fn place(&self) -> Option<&Place> {
        match self {
            GiveEdit::GivePatch { at, .. }
            | GiveEdit::GiveRelief { at, .. }
            | GiveEdit::GiveAlike { at, .. }
            | GiveEdit::GiveStray { at } => Some(at),
            GiveEdit::GiveBand { at, .. } | GiveEdit::GiveChange { at, .. } => at.as_ref(),
            GiveEdit::GiveFacets { at, .. } => at.first(),
            GiveEdit::GiveStroke { .. }
            | GiveEdit::GiveLasso { .. }
            | GiveEdit::GiveDrawing { .. }
            | GiveEdit::GiveTone { .. }
            | GiveEdit::GiveSpeckles { .. }
            | GiveEdit::GrowRegion { .. }
            | GiveEdit::SmoothRegion { .. }
            | GiveEdit::InvertRegion { .. }
            | GiveEdit::GiveRest { .. }
            | GiveEdit::GiveStrays { .. } => None,
        }
    }

    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        let to = match self.region() {
            Some(OWN_REGION) => "back to the part".to_string(),
            Some(region) => format!("to {}", name_of(region)),
            None => String::new(),
        };
        match self {
            GiveEdit::GivePatch { crease_deg, .. } => {
                format!("Patch at {}° {to}", figure(*crease_deg))
            }
            GiveEdit::GiveRelief { all: true, .. } => format!("All reliefs at one height {to}"),
            GiveEdit::GiveRelief { all: false, .. } => format!("Relief {to}"),
            GiveEdit::GiveStroke { reach, stroke, .. } => format!(
                "{} of {} mm {to}",
                match reach {
                    Reach::Dab => "Dab",
                    Reach::Dip => "Dip",
                },
                figure(stroke.radius_mm)
            ),
            GiveEdit::GiveFacets { at, .. } if at.len() == 1 => format!("Facet {to}"),
            GiveEdit::GiveFacets { at, .. } => format!("{} {to}", counted(at.len(), "facet")),
            GiveEdit::GiveBand {
                low_mm,
                high_mm,
                count,
                depth,
                ..
            } => {
                let to = match depth {
                    BandDepth::Skin => to,
                    BandDepth::Through => format!("right through {to}"),
                    BandDepth::Inside => format!("inside {to}"),
                };
                let (low, high) = (low_mm.min(*high_mm), low_mm.max(*high_mm));
                let from = format!("{low:.2} to {high:.2} mm");
                if *count == 1 {
                    format!("Band from {from} {to}")
                } else {
                    format!("{count} bands, the first from {from}, {to}")
                }
            }
            GiveEdit::GiveChange { from_mm, .. } => {
                format!("Everything from {from_mm:.2} mm up {to}")
            }
            GiveEdit::GiveLasso { through, .. } => {
                let how = if *through { " right through" } else { "" };
                format!("Lasso{how} {to}")
            }
            GiveEdit::GiveTone { tone, .. } => {
                let tone = match tone {
                    Tone::Shade => "Recesses",
                    Tone::Light => "What looks up",
                    Tone::Edges => "Edges",
                };
                format!("{tone} {to}")
            }
            GiveEdit::GiveSpeckles { width_mm, .. } => {
                format!("Speckles of {} mm {to}", figure(*width_mm))
            }
            GiveEdit::GiveDrawing {
                drawing, regions, ..
            } => match self.region() {
                Some(_) => format!("{} {to}", drawing.name()),
                None => format!(
                    "{} in {}",
                    drawing.name(),
                    counted(regions.iter().flatten().count(), "colour")
                ),
            },
            GiveEdit::GiveAlike {
                region,
                to: AlikeTo::Parts,
                ..
            } => format!("{} on all parts alike", name_of(region)),
            GiveEdit::GiveAlike {
                to: AlikeTo::Patches,
                ..
            } => format!("Patches alike {to}"),
            GiveEdit::GrowRegion { region, by_mm } if *by_mm < 0.0 => {
                format!("Shrink {} by {} mm", name_of(region), figure(-by_mm))
            }
            GiveEdit::GrowRegion { region, by_mm } => {
                format!("Grow {} by {} mm", name_of(region), figure(*by_mm))
            }
            GiveEdit::SmoothRegion { region, by_mm } => {
                format!(
                    "Smooth the edge of {} by {} mm",
                    name_of(region),
                    figure(*by_mm)
                )
            }
            GiveEdit::InvertRegion { region } => format!("Invert {}", name_of(region)),
            GiveEdit::GiveRest { .. } => format!("All the rest {to}"),
            GiveEdit::GiveStray { .. } => "Give a stray to its neighbour".into(),
            GiveEdit::GiveStrays { smaller_mm2, .. } => {
                format!(
                    "Give all strays under {} mm² to their neighbours",
                    figure(*smaller_mm2)
                )
            }
        }
    }
}
