//! Edits of where things stand, and how many of them.

use super::Touches;
use crate::counted;
use crate::figure;
use crate::model::Place;
use serde::{Deserialize, Serialize};
use strum::{IntoStaticStr, VariantNames};

/// What is placed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "of", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Target {
    /// All models together, so that they keep their places to each other.
    Everything,
    /// One model with all its parts.
    Model {
        /// Its name.
        model: String,
    },
    /// The part at a place.
    Part {
        /// Anywhere on the part.
        at: Place,
    },
}

/// An axis of the bed: x to the right, y to the back, z up.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Axis {
    /// To the right.
    X,
    /// To the back.
    Y,
    /// Up.
    Z,
}

impl Axis {
    /// Its place in a list of three numbers.
    pub(in crate::job) fn index(self) -> usize {
        self as usize
    }

    /// One mm along it.
    pub(in crate::job) fn unit(self) -> [f64; 3] {
        let mut unit = [0.0; 3];
        unit[self.index()] = 1.0;
        unit
    }
}

/// A change of place. Turns, mirrors and sizes are about the middle of what is placed; what stood on the bed before
/// stands on it afterwards.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "how", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Placing {
    /// Moves by a distance on each axis.
    Move {
        /// In mm.
        by_mm: [f64; 3],
    },
    /// Turns about an axis, counter-clockwise seen from its end.
    Turn {
        /// Which axis.
        axis: Axis,
        /// By how much.
        degrees: f64,
    },
    /// Stretches each axis by a factor.
    Stretch {
        /// Factor per axis, above 0.
        factors: [f64; 3],
    },
    /// Scales to a size along one axis.
    Size {
        /// Which axis.
        axis: Axis,
        /// The size wanted along it.
        mm: f64,
        /// Leave the other axes as they are.
        #[serde(default)]
        alone: bool,
    },
    /// Mirrors along an axis.
    Mirror {
        /// Which axis.
        axis: Axis,
    },
    /// Turns the facet at a place to lie on the bed.
    FaceDown {
        /// Where.
        at: Place,
    },
    /// Turns the facet at a place to look straight up.
    FaceUp {
        /// Where.
        at: Place,
    },
    /// To the middle of the bed.
    Centre,
    /// Down, or up, onto the bed.
    Drop,
    /// Middle over middle with something else, seen from above.
    CentreOn {
        /// What to centre on.
        other: Target,
    },
    /// Back to where the file has it, size and all.
    Home,
}

/// A change of where models stand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, IntoStaticStr, VariantNames)]
#[serde(tag = "edit", rename_all = "kebab-case", deny_unknown_fields)]
#[strum(serialize_all = "kebab-case")]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum PlaceEdit {
    /// Moves, turns, scales or mirrors models or parts.
    Place {
        /// What is placed.
        target: Target,
        /// How.
        placing: Placing,
    },
    /// Stands the models side by side on the bed, in rows from left to right and from front to back, in place of their
    /// shared coordinates.
    SetApart {
        /// Gap between two, mm.
        spacing_mm: f64,
    },
    /// Prints several pieces of everything, in a grid.
    SetCopies {
        /// From left to right.
        across: u32,
        /// From front to back.
        along: u32,
        /// Gap between two, mm.
        spacing_mm: f64,
    },
    /// Prints as many pieces as the bed holds.
    FillBed {
        /// Gap between two, mm.
        spacing_mm: f64,
    },
}

impl Placing {
    fn in_words(&self) -> String {
        match self {
            Placing::Move { .. } => "Move".into(),
            Placing::Turn { degrees, .. } => format!("Turn by {}°", figure(*degrees)),
            Placing::Stretch { .. } => "Stretch".into(),
            Placing::Size { mm, .. } => format!("Scale to {} mm", figure(*mm)),
            Placing::Mirror { .. } => "Mirror".into(),
            Placing::FaceDown { .. } => "Lay a face down".into(),
            Placing::FaceUp { .. } => "Turn a face up".into(),
            Placing::Centre => "Centre on the bed".into(),
            Placing::Drop => "Drop to the bed".into(),
            Placing::CentreOn { .. } => "Centre on another".into(),
            Placing::Home => "Put back where the file has it".into(),
        }
    }
}

impl PlaceEdit {
    /// The place it names.
    pub(super) fn place(&self) -> Option<&Place> {
        match self {
            PlaceEdit::Place { target, placing } => match (placing, target) {
                (Placing::FaceDown { at } | Placing::FaceUp { at }, _) => Some(at),
                (_, Target::Part { at }) => Some(at),
                (_, Target::Everything | Target::Model { .. }) => None,
            },
            PlaceEdit::SetApart { .. }
            | PlaceEdit::SetCopies { .. }
            | PlaceEdit::FillBed { .. } => None,
        }
    }

    /// What it touches of what the layers are divided by.
    pub(super) fn touches(&self) -> Touches {
        match self {
            PlaceEdit::SetCopies { .. } | PlaceEdit::FillBed { .. } => Touches::Nothing,
            PlaceEdit::Place { .. } | PlaceEdit::SetApart { .. } => Touches::Everything,
        }
    }

    /// What it does, in plain words.
    pub(super) fn in_words(&self) -> String {
        match self {
            PlaceEdit::Place { placing, .. } => placing.in_words(),
            PlaceEdit::SetApart { .. } => "Stand the models side by side".into(),
            PlaceEdit::SetCopies { across, along, .. } => {
                let pieces = (*across as usize).saturating_mul(*along as usize);
                format!("Print {}", counted(pieces, "piece"))
            }
            PlaceEdit::FillBed { .. } => "Fill the bed with pieces".into(),
        }
    }
}
