//! A whole job as one file: its edits, the spools they name and the files of its models, to be opened again anywhere.

use super::edits::Edit;
use crate::Problem;
use crate::formats::{PROJECT_LIST, unzip_files, zip_files};
use crate::machine::Spool;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Where the files of models are in the archive, each by the name of its content.
const MODELS: &str = "models/";
/// Counts changes that an older version could not read.
const VERSION: u32 = 1;

/// A job with everything that it takes to make it again.
#[derive(Debug, Clone, PartialEq)]
pub struct Project {
    /// All edits, those that opened it included.
    pub edits: Vec<Edit>,
    /// How many of them opened it and cannot be taken back.
    pub floor: usize,
    /// The spools that its edits name.
    pub spools: Vec<Spool>,
    /// Bytes of the model files, by the names of their contents.
    pub contents: BTreeMap<String, Vec<u8>>,
}

#[derive(Serialize, Deserialize)]
struct List {
    version: u32,
    floor: usize,
    edits: Vec<serde_json::Value>,
    spools: Vec<Spool>,
}

impl Project {
    /// The project as a ZIP archive.
    ///
    /// # Errors
    /// `export-failed`.
    pub fn to_zip(&self) -> Result<Vec<u8>, Problem> {
        let failed = |e: serde_json::Error| {
            let message = format!("The project could not be written: {e}");
            Problem::new("export-failed", message, PROJECT_LIST, "Try again.")
        };
        let list = List {
            version: VERSION,
            floor: self.floor,
            edits: self
                .edits
                .iter()
                .map(serde_json::to_value)
                .collect::<Result<_, _>>()
                .map_err(failed)?,
            spools: self.spools.clone(),
        };
        let text = serde_json::to_vec_pretty(&list).map_err(failed)?;
        let mut files = vec![(PROJECT_LIST.to_string(), text)];
        let models = self.contents.iter();
        files.extend(models.map(|(name, bytes)| (format!("{MODELS}{name}"), bytes.clone())));
        zip_files(&files)
    }

    /// Reads a project.
    ///
    /// # Errors
    /// `zip-…` for a damaged archive; `project-newer`; `project-not-readable`; `project-incomplete` if a model's file is
    /// missing.
    pub fn from_zip(bytes: &[u8]) -> Result<Project, Problem> {
        let mut files = unzip_files(bytes, &|name| {
            name == PROJECT_LIST || name.starts_with(MODELS)
        })?;
        let text = files.remove(PROJECT_LIST).unwrap_or_default();
        let unreadable = |e: serde_json::Error| {
            let message = format!("The project's list of edits cannot be read: {e}");
            let place = format!("{PROJECT_LIST}, line {}", e.line());
            Problem::new(
                "project-not-readable",
                message,
                place,
                "Export the project again.",
            )
        };
        let list: List = serde_json::from_slice(&text).map_err(unreadable)?;
        if list.version > VERSION {
            return Err(newer());
        }
        let read = |edit| serde_json::from_value::<Edit>(edit).map_err(|_| newer());
        let edits: Vec<Edit> = list.edits.into_iter().map(read).collect::<Result<_, _>>()?;
        list.spools.iter().try_for_each(Spool::check)?;
        let contents: BTreeMap<String, Vec<u8>> = files
            .into_iter()
            .filter_map(|(name, bytes)| Some((name.strip_prefix(MODELS)?.to_string(), bytes)))
            .collect();
        let named: BTreeSet<&str> = edits.iter().flat_map(Edit::contents).collect();
        if let Some(missing) = named.iter().find(|n| !contents.contains_key(**n)) {
            return Err(Problem::new(
                "project-incomplete",
                "The project names the file of a model that is not in it",
                format!("{MODELS}{missing}"),
                "Export the project again, and do not change the archive.",
            ));
        }
        Ok(Project {
            floor: list.floor.min(edits.len()),
            edits,
            spools: list.spools,
            contents,
        })
    }
}

fn newer() -> Problem {
    Problem::new(
        "project-newer",
        "This project was made by a newer version of Varichrom",
        PROJECT_LIST,
        "Open it with that version.",
    )
}
