//! What is laid on a model: a drawing or picture in a file, typed words, or an eye.

use super::eye::Eye;
use super::flat::Flat;
use super::words::Words;
use super::{DrawingOptions, read_drawing};
use crate::Problem;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// What is laid on a model.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub enum DrawingSource {
    /// A drawing or a picture.
    File {
        /// Name of the file, as the maker knows it.
        file: String,
        /// Name of its content; in a recipe, the file.
        content: String,
        /// How it is read.
        #[serde(default, skip_serializing_if = "crate::is_default")]
        #[cfg_attr(feature = "wire", ts(optional, as = "Option<DrawingOptions>"))]
        options: DrawingOptions,
    },
    /// Typed words.
    Words {
        /// How they are set.
        words: Words,
    },
    /// An eye.
    Eye {
        /// How it looks.
        eye: Eye,
    },
}

/// Gives the bytes of a content.
pub type Read<'a> = &'a dyn Fn(&str) -> Result<Arc<Vec<u8>>, Problem>;

impl DrawingSource {
    /// Names of the contents that it takes.
    pub fn contents(&self) -> Vec<&str> {
        match self {
            DrawingSource::File { content, .. } => vec![content],
            DrawingSource::Words { words } => words.own_font.as_deref().into_iter().collect(),
            DrawingSource::Eye { .. } => Vec::new(),
        }
    }

    /// Laid flat.
    ///
    /// # Errors
    /// As for [`read_drawing`] and [`Words::flat`]; that the content is not there.
    pub fn flat(
        &self,
        read: Read<'_>,
        progress: &(dyn Fn(f64) -> bool + Sync),
    ) -> Result<Flat, Problem> {
        match self {
            DrawingSource::File {
                content, options, ..
            } => read_drawing(&read(content)?, options, progress),
            DrawingSource::Words { words } => {
                let own = words.own_font.as_deref().map(read).transpose()?;
                words.flat(own.as_ref().map(|o| o.as_slice()))
            }
            DrawingSource::Eye { eye } => eye.flat(),
        }
    }

    /// What it is called.
    pub fn name(&self) -> String {
        match self {
            DrawingSource::File { file, .. } => file.clone(),
            DrawingSource::Eye { .. } => "An eye".into(),
            DrawingSource::Words { words } => {
                const LONG: usize = 24;
                let text: Vec<&str> = words.text.split_whitespace().collect();
                let text = text.join(" ");
                match text.char_indices().nth(LONG) {
                    Some((at, _)) => format!("“{}…”", &text[..at]),
                    None => format!("“{text}”"),
                }
            }
        }
    }
}
