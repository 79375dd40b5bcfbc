//! The edits of parts: dividing, cutting, filling, and their list.

use super::Touches;
use crate::drawing::{DrawingSource, Laying};
use crate::figure;
use crate::model::Place;
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// How deep a region's surface goes as a part.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "depth", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Depth {
    /// The region's soak depth.
    Soak,
    /// A typed depth.
    Mm {
        /// In mm.
        mm: f64,
    },
    /// As deep as it goes without folding over itself, up to a typed depth.
    UpTo {
        /// In mm.
        mm: f64,
    },
    /// Straight through the part.
    Through,
}

/// Where a part is cut.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum CutPlane {
    /// Level, at a height above the bed.
    Height {
        /// In mm.
        mm: f64,
    },
    /// Through three points.
    Points {
        /// The points, mm.
        points: [[f64; 3]; 3],
    },
    /// In the plane of a face.
    Face {
        /// Anywhere on the face.
        face: Place,
    },
}

/// Which way a drawing becomes a relief.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Relief {
    /// It stands out.
    Raised {
        /// How far, mm.
        mm: f64,
    },
    /// It lies below the face.
    Sunken {
        /// How deep, mm.
        mm: f64,
    },
    /// It goes right through the part.
    Through,
}

/// What becomes of pieces too small to print.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Fragments {
    /// They become parts like the others.
    #[default]
    Keep,
    /// Each goes to the larger part nearest to it.
    Join,
    /// They are left out.
    Drop,
}

fn is_no(value: &bool) -> bool {
    !*value
}

fn is_zero(value: &f64) -> bool {
    *value == 0.0
}

/// One change of the parts of a job. A part is named by any place on it. It travels as `{"edit": "part", "do": …}`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
#[allow(
    clippy::large_enum_variant,
    reason = "an edit is held one at a time, and a job has few of this kind"
)]
pub enum PartEdit {
    /// Makes every separate shell of a part a part of its own. Region and group stay those of the part.
    Split {
        /// On the part.
        at: Place,
        /// Shells of less volume than this are fragments, mm³.
        #[serde(default, skip_serializing_if = "is_zero")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
        smaller_mm3: f64,
        /// What becomes of fragments.
        #[serde(default)]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<Fragments>"))]
        fragments: Fragments,
        /// Also on every part of the same shape.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        alike: bool,
    },
    /// Makes one part of several; name, region and place in the list are those of the first.
    Join {
        /// On each of the parts, which are of one model.
        at: Vec<Place>,
    },
    /// Takes a part out for good.
    Drop {
        /// On the part.
        at: Place,
    },
    /// Joins or drops all parts of the job that are too small to print.
    Tidy {
        /// Parts of less volume than this are fragments, mm³.
        smaller_mm3: f64,
        /// What becomes of them.
        fragments: Fragments,
    },
    /// Makes a region's surface a closed part, and what is left another.
    FromRegion {
        /// Which region.
        region: String,
        /// On the part it is taken from; left out, every part that shows the region gives one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        at: Option<Place>,
        /// How deep.
        depth: Depth,
        /// Also on every part of the same shape, for which the region is repeated there first.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        alike: bool,
    },
    /// Cuts a part in two by a plane.
    Cut {
        /// On the part.
        at: Place,
        /// Where.
        plane: CutPlane,
        /// Also every part of the same shape, at the same place of it.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        alike: bool,
    },
    /// Fills a sunken relief level with the face around it.
    Inlay {
        /// Region of the new part.
        region: String,
        /// On the sunken face.
        at: Place,
        /// Crease angle in degrees, 1 to 90.
        crease_deg: f64,
        /// Also every other relief of the part at the same height.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        all: bool,
        /// Layers from the face down; left out, the whole depth.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        layers: Option<u32>,
        /// Gap left to the walls, mm.
        #[serde(default, skip_serializing_if = "is_zero")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
        clearance_mm: f64,
        /// Also on every part of the same shape.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        alike: bool,
    },
    /// Sinks a part into those below it, away from the face named, and cuts its pocket.
    Sink {
        /// On the face of the part that stays in sight.
        at: Place,
        /// How far, mm; left out, until the face is level with the surface below it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        #[cfg_attr(feature = "wire", ts(optional))]
        depth_mm: Option<f64>,
        /// Gap left around it, mm.
        #[serde(default, skip_serializing_if = "is_zero")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<f64>"))]
        clearance_mm: f64,
        /// Also every part of the same shape.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        alike: bool,
    },
    /// Raises a drawing or words from a flat face of a part, sinks them into it, or cuts them through.
    Stamp {
        /// On the part.
        at: Place,
        /// The drawing.
        drawing: DrawingSource,
        /// Where and how it lies: straight.
        laying: Laying,
        /// Key of the region for each of its colours, in their order; none where nothing is made of it.
        regions: Vec<Option<String>>,
        /// Which way, and how far.
        relief: Relief,
    },
    /// Cuts one part out of another, so that they no longer share volume.
    CutOverlap {
        /// On the part that stays whole.
        keep: Place,
        /// On the part that is cut.
        from: Place,
    },
    /// Holds two parts that touch by teeth of the first in the second, inside only.
    Interlock {
        /// On the part that grows teeth.
        at: Place,
        /// On the part that gives room.
        into: Place,
        /// Width of a tooth, and how far it reaches in, mm.
        size_mm: f64,
        /// Whether teeth are wider at the end than at the foot, so that they cannot be pulled out.
        #[serde(default, skip_serializing_if = "is_no")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<bool>"))]
        dovetail: bool,
    },
    /// Moves a part in the list, which says who owns shared volume.
    Order {
        /// On the part.
        at: Place,
        /// On the part it is put beside; it joins that part's group.
        beside: Place,
        /// Whether it goes above it, or below.
        above: bool,
    },
    /// Makes a group of parts, where the first of them stands.
    Group {
        /// On each of the parts.
        at: Vec<Place>,
        /// Key of the group, unique and lasting.
        group: String,
        /// What the maker calls it.
        name: String,
    },
    /// Renames a group.
    RenameGroup {
        /// Which.
        group: String,
        /// The new name.
        name: String,
    },
    /// Undoes a group; its parts stay where they are.
    Ungroup {
        /// Which.
        group: String,
    },
    /// Locks a part: nothing recolours, moves or cuts it.
    Lock {
        /// On the part.
        at: Place,
        /// Whether it is locked from now on.
        is_locked: bool,
    },
    /// Leaves a part out of the print, or takes it in again.
    Print {
        /// On the part.
        at: Place,
        /// Whether it is printed from now on.
        is_printed: bool,
    },
    /// Leaves a part out of the passes of some slots: what it would print from them is not printed.
    SkipPasses {
        /// On the part.
        at: Place,
        /// The slots, from 1.
        slots: Vec<u8>,
    },
    /// Says what a part is made of on a jetting machine.
    MadeOf {
        /// On the part.
        at: Place,
        /// Name of a base material; the printer's usual one without.
        #[serde(default)]
        #[cfg_attr(feature = "wire", ts(optional = nullable))]
        material: Option<String>,
        /// How much of what lies behind it hides, 0 clear to 1 solid.
        #[serde(default = "crate::job::state::solid")]
        opacity: f64,
    },
}

impl PartEdit {
    /// The first place it names.
    pub fn place(&self) -> Option<&Place> {
        match self {
            PartEdit::Split { at, .. }
            | PartEdit::Drop { at }
            | PartEdit::Cut { at, .. }
            | PartEdit::Inlay { at, .. }
            | PartEdit::Sink { at, .. }
            | PartEdit::Stamp { at, .. }
            | PartEdit::Order { at, .. }
            | PartEdit::Lock { at, .. }
            | PartEdit::Interlock { at, .. }
            | PartEdit::Print { at, .. }
            | PartEdit::SkipPasses { at, .. }
            | PartEdit::MadeOf { at, .. } => Some(at),
            PartEdit::CutOverlap { keep, .. } => Some(keep),
            PartEdit::FromRegion { at, .. } => at.as_ref(),
            PartEdit::Join { at } | PartEdit::Group { at, .. } => at.first(),
            PartEdit::Tidy { .. } | PartEdit::RenameGroup { .. } | PartEdit::Ungroup { .. } => None,
        }
    }

    /// Names of the contents that it takes.
    pub(super) fn contents(&self) -> Vec<&str> {
        let PartEdit::Stamp { drawing, .. } = self else {
            return Vec::new();
        };
        drawing.contents()
    }

    /// Whether it makes other bodies of the parts, rather than list them otherwise.
    pub(in crate::job) fn makes_bodies(&self) -> bool {
        match self {
            PartEdit::Split { .. }
            | PartEdit::Join { .. }
            | PartEdit::Drop { .. }
            | PartEdit::Tidy { .. }
            | PartEdit::FromRegion { .. }
            | PartEdit::Cut { .. }
            | PartEdit::Inlay { .. }
            | PartEdit::Sink { .. }
            | PartEdit::CutOverlap { .. }
            | PartEdit::Stamp { .. }
            | PartEdit::Interlock { .. } => true,
            PartEdit::Order { .. }
            | PartEdit::Group { .. }
            | PartEdit::RenameGroup { .. }
            | PartEdit::Ungroup { .. }
            | PartEdit::Lock { .. }
            | PartEdit::Print { .. }
            | PartEdit::SkipPasses { .. }
            | PartEdit::MadeOf { .. } => false,
        }
    }

    /// What it touches of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            PartEdit::RenameGroup { .. } | PartEdit::Lock { .. } | PartEdit::MadeOf { .. } => {
                Touches::Nothing
            }
            PartEdit::Split { .. }
            | PartEdit::Join { .. }
            | PartEdit::Drop { .. }
            | PartEdit::Tidy { .. }
            | PartEdit::FromRegion { .. }
            | PartEdit::Cut { .. }
            | PartEdit::Inlay { .. }
            | PartEdit::Sink { .. }
            | PartEdit::CutOverlap { .. }
            | PartEdit::Stamp { .. }
            | PartEdit::Interlock { .. }
            | PartEdit::Order { .. }
            | PartEdit::Group { .. }
            | PartEdit::Ungroup { .. }
            | PartEdit::Print { .. }
            | PartEdit::SkipPasses { .. } => Touches::Everything,
        }
    }

    /// What it does, in plain words.
    pub(super) fn in_words(&self, name_of: &dyn Fn(&str) -> String) -> String {
        match self {
            PartEdit::Split { .. } => "Split a part into its shells".into(),
            PartEdit::Join { at } => format!("Join {} parts", at.len()),
            PartEdit::Drop { .. } => "Drop a part".into(),
            PartEdit::Tidy {
                smaller_mm3,
                fragments,
            } => {
                let what = match fragments {
                    Fragments::Drop => "Drop",
                    Fragments::Join | Fragments::Keep => "Join",
                };
                format!("{what} parts under {} mm³", figure(*smaller_mm3))
            }
            PartEdit::FromRegion { region, depth, .. } => {
                let how = match depth {
                    Depth::Soak => "to its soak depth".to_string(),
                    Depth::Mm { mm } => format!("{} mm deep", figure(*mm)),
                    Depth::UpTo { mm } => format!("as deep as it goes up to {} mm", figure(*mm)),
                    Depth::Through => "straight through".to_string(),
                };
                format!("Make {} a part, {how}", name_of(region))
            }
            PartEdit::Cut { plane, .. } => match plane {
                CutPlane::Height { mm } => format!("Cut at {mm:.2} mm"),
                CutPlane::Points { .. } => "Cut through three points".into(),
                CutPlane::Face { .. } => "Cut in the plane of a face".into(),
            },
            PartEdit::Inlay { region, layers, .. } => match layers {
                Some(1) => format!("Inlay {} in the top layer", name_of(region)),
                Some(n) => format!("Inlay {} in the top {n} layers", name_of(region)),
                None => format!("Inlay {}", name_of(region)),
            },
            PartEdit::Sink { depth_mm, .. } => match depth_mm {
                Some(mm) => format!("Sink a part by {} mm", figure(*mm)),
                None => "Sink a part level with what is below".into(),
            },
            PartEdit::Stamp {
                drawing, relief, ..
            } => {
                let name = drawing.name();
                match relief {
                    Relief::Raised { mm } => format!("Raise {name} by {} mm", figure(*mm)),
                    Relief::Sunken { mm } => format!("Sink {name} in by {} mm", figure(*mm)),
                    Relief::Through => format!("Cut {name} through"),
                }
            }
            PartEdit::CutOverlap { .. } => "Cut one part out of another".into(),
            PartEdit::Interlock {
                size_mm, dovetail, ..
            } => {
                let teeth = if *dovetail { "dovetails" } else { "teeth" };
                format!(
                    "Interlock two parts with {teeth} of {} mm",
                    figure(*size_mm)
                )
            }
            PartEdit::Order { .. } => "Move a part in the list".into(),
            PartEdit::Group { name, .. } => format!("Group parts as {name}"),
            PartEdit::RenameGroup { name, .. } => format!("Name a group {name}"),
            PartEdit::Ungroup { .. } => "Undo a group".into(),
            PartEdit::Lock { is_locked, .. } => (if *is_locked {
                "Lock a part"
            } else {
                "Unlock a part"
            })
            .into(),
            PartEdit::Print { is_printed, .. } => {
                let words = if *is_printed {
                    "Print a part again"
                } else {
                    "Leave a part out of the print"
                };
                words.into()
            }
            PartEdit::SkipPasses { slots, .. } if slots.is_empty() => {
                "Print a part in all passes".into()
            }
            PartEdit::SkipPasses { .. } => "Leave a part out of passes".into(),
            PartEdit::MadeOf {
                material, opacity, ..
            } => {
                let of = material.as_deref().unwrap_or("the usual material");
                match *opacity < 1.0 {
                    true => format!("Make a part of {of}, hiding {:.0} %", 100.0 * opacity),
                    false => format!("Make a part of {of}"),
                }
            }
        }
    }
}
