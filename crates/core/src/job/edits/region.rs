//! Edits of the list of regions, and of whole parts given to them.

use super::super::depth::SoakDepth;
use super::{Touches, is_default};
use crate::colour::Colour;
use crate::model::Place;
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// A change of the regions.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum RegionEdit {
    /// Adds a colour region.
    AddRegion {
        /// Key by which other edits name it, unique and lasting.
        region: String,
        /// What the maker calls it.
        name: String,
        /// The colour wanted.
        colour: Colour,
        /// Slot it prints from, counted from 1. Left out: the first slot no region uses, if there is one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        slot: Option<u8>,
    },
    /// Renames a region.
    RenameRegion {
        /// Which.
        region: String,
        /// The new name.
        name: String,
    },
    /// Changes the colour wanted for a region.
    RecolourRegion {
        /// Which.
        region: String,
        /// The new colour.
        colour: Colour,
    },
    /// Deletes a region; its surface goes back to each part's own region.
    DeleteRegion {
        /// Which.
        region: String,
    },
    /// Sets how far a region's colour goes in below the surface.
    SetSoak {
        /// Which.
        region: String,
        /// Depth in mm, if it is told so.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        soak_mm: Option<f64>,
        /// Depth in layers, if it is told so.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        layers: Option<u32>,
        /// Whether it goes right through.
        #[serde(default, skip_serializing_if = "is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        through: bool,
    },
    /// Protects a region: no tool takes surface from it.
    ProtectRegion {
        /// Which.
        region: String,
        /// Whether it is protected from now on.
        is_protected: bool,
    },
    /// Gives the whole part at a place to a region, which becomes the part's own.
    GivePart {
        /// Which region.
        region: String,
        /// Anywhere on the part.
        at: Place,
    },
    /// Takes all surface and all parts back to the first region.
    ClearColours {},
}

impl RegionEdit {
    /// The place it names.
    pub(super) fn place(&self) -> Option<&Place> {
        match self {
            RegionEdit::GivePart { at, .. } => Some(at),
            RegionEdit::AddRegion { .. }
            | RegionEdit::RenameRegion { .. }
            | RegionEdit::RecolourRegion { .. }
            | RegionEdit::DeleteRegion { .. }
            | RegionEdit::SetSoak { .. }
            | RegionEdit::ProtectRegion { .. }
            | RegionEdit::ClearColours {} => None,
        }
    }

    /// What it touches of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            RegionEdit::RenameRegion { .. }
            | RegionEdit::RecolourRegion { .. }
            | RegionEdit::ProtectRegion { .. } => Touches::Nothing,
            RegionEdit::AddRegion { .. }
            | RegionEdit::DeleteRegion { .. }
            | RegionEdit::GivePart { .. }
            | RegionEdit::ClearColours {} => Touches::Everything,
            RegionEdit::SetSoak { .. } => Touches::Depths,
        }
    }

    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            RegionEdit::AddRegion { name, .. } => format!("Add region {name}"),
            RegionEdit::RenameRegion { name, .. } => format!("Name a region {name}"),
            RegionEdit::RecolourRegion { region, colour } => {
                format!("Colour {} {colour}", name_of(region))
            }
            RegionEdit::DeleteRegion { region } => format!("Delete {}", name_of(region)),
            RegionEdit::SetSoak {
                region,
                soak_mm,
                layers,
                through,
            } => {
                let depth = SoakDepth::asked(*soak_mm, *layers, *through).unwrap_or_default();
                format!("Let {} soak in {}", name_of(region), depth.in_words())
            }
            RegionEdit::ProtectRegion {
                region,
                is_protected: true,
            } => format!("Protect {}", name_of(region)),
            RegionEdit::ProtectRegion {
                region,
                is_protected: false,
            } => format!("No longer protect {}", name_of(region)),
            RegionEdit::GivePart { region, .. } => format!("Whole part to {}", name_of(region)),
            RegionEdit::ClearColours {} => "Clear all colours".into(),
        }
    }
}
