//! What a jetting machine builds parts of, whatever colour they have.

use crate::{Problem, figure};
use serde::{Deserialize, Serialize};

/// How a base material is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum Nature {
    /// Hard.
    Rigid,
    /// Like rubber.
    Rubber {
        /// Hardness, Shore A (ISO 48-4): the less, the softer.
        shore_a: f64,
    },
    /// Clear: colour is seen in the depth of it.
    Clear,
}

/// A base material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct BaseMaterial {
    /// What the maker calls it.
    pub name: String,
    /// How it is.
    pub nature: Nature,
}

/// Base materials that a machine may have.
const MOST: usize = 12;

impl BaseMaterial {
    /// Three to begin with (common practice, no source).
    pub fn usual() -> Vec<BaseMaterial> {
        let material = |name: &str, nature: Nature| BaseMaterial {
            name: name.into(),
            nature,
        };
        vec![
            material("Rigid", Nature::Rigid),
            material("Soft", Nature::Rubber { shore_a: 50.0 }),
            material("Clear", Nature::Clear),
        ]
    }

    /// The material in words, for tables.
    pub fn words(&self) -> String {
        match self.nature {
            Nature::Rigid => format!("{}, rigid", self.name),
            Nature::Rubber { shore_a } => {
                format!("{}, rubber-like, Shore A {}", self.name, figure(shore_a))
            }
            Nature::Clear => format!("{}, clear", self.name),
        }
    }

    /// Whether a list can be used.
    ///
    /// # Errors
    /// `materials-unusable` with the name that is wrong.
    pub(super) fn check(all: &[BaseMaterial]) -> Result<(), Problem> {
        let refused = |what: String, mend: &str| {
            Err(Problem::new("materials-unusable", what, "materials", mend))
        };
        if all.len() > MOST {
            return refused(
                format!("{} base materials are more than any machine has", all.len()),
                "Keep twelve at most.",
            );
        }
        for (n, material) in all.iter().enumerate() {
            let name = material.name.trim();
            if name.is_empty() || name.chars().count() > 60 {
                let mend = "Give it a name of up to 60 letters.";
                return refused(format!("Base material {} has no usable name", n + 1), mend);
            }
            if all[..n].iter().any(|m| m.name.trim() == name) {
                let what = format!("Two base materials are called {name}");
                return refused(what, "Give one of them another name.");
            }
            if let Nature::Rubber { shore_a } = material.nature
                && !(5.0..=100.0).contains(&shore_a)
            {
                let what = format!("{} cannot be the hardness of {name}", figure(shore_a));
                return refused(what, "Type a Shore A hardness from 5 to 100.");
            }
        }
        Ok(())
    }
}
