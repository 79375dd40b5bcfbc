//! A drawing kept with the model that is made of it, so that it can be changed later.

use super::bodies::bodies_threemf;
use super::flat::Flat;
use super::flatwork::Flatwork;
use super::stacking::{Stacking, stacked};
use super::{DrawingOptions, read_drawing};
use crate::Problem;
use crate::formats::{bundle, unzip_files};
use serde::{Deserialize, Serialize};

/// What a drawing and all that was said of it are called in the file of its model.
const SAID: &str = "drawing.json";
const DRAWN: &str = "drawing.bin";

/// A drawing with all that was said of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawn {
    /// The file.
    pub bytes: Vec<u8>,
    /// What was said.
    pub said: Said,
}

/// All that is said of a drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Said {
    /// Name of its file.
    pub file: String,
    /// How it is read.
    pub options: DrawingOptions,
    /// What becomes of it.
    pub work: Flatwork,
    /// How it is stacked instead, if it is a picture that is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stacking: Option<Stacking>,
}

impl Drawn {
    /// Laid flat.
    ///
    /// # Errors
    /// As for [`read_drawing`].
    pub fn flat(&self, progress: &(dyn Fn(f64) -> bool + Sync)) -> Result<Flat, Problem> {
        read_drawing(&self.bytes, &self.said.options, progress)
    }

    /// The file of the model that it becomes: a 3MF package of its bodies, with the drawing beside it.
    ///
    /// # Errors
    /// As for [`Flatwork::bodies`].
    pub fn model(&self, flat: &Flat) -> Result<Vec<u8>, Problem> {
        let stem = self.said.file.rsplit_once('.');
        let stem = stem.map_or(self.said.file.as_str(), |(stem, _)| stem);
        let bodies = match &self.said.stacking {
            Some(stacking) => {
                let options = &self.said.options;
                let (width, specks) = (options.width_mm, options.specks_mm2);
                stacked(&self.bytes, width, specks, stacking, &|_| true)?.bodies(stacking)
            }
            None => self.said.work.bodies(flat)?,
        };
        let package = bodies_threemf(stem, &bodies)?;
        let said = serde_json::to_vec(&self.said).map_err(|e| {
            let message = format!("The drawing cannot be kept: {e}");
            Problem::new("export-failed", message, "", "Tell us about this drawing.")
        })?;
        let beside = [(SAID.into(), said), (DRAWN.into(), self.bytes.clone())];
        bundle(("bodies.3mf", package), &beside)
    }

    /// The drawing that a model's file was made of, if it was.
    pub fn of(model: &[u8]) -> Option<Drawn> {
        if !model.starts_with(b"PK") {
            return None;
        }
        let mut files = unzip_files(model, &|name| name == SAID || name == DRAWN).ok()?;
        Some(Drawn {
            said: serde_json::from_slice(&files.remove(SAID)?).ok()?,
            bytes: files.remove(DRAWN)?,
        })
    }
}
