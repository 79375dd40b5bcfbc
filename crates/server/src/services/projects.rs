//! Jobs as files of their own: handed over whole, and opened again here or elsewhere.

use super::session::Session;
use super::staging::content_name;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::JobSummary;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::job::Project;

impl Session {
    /// The job with its models and spools as one file.
    ///
    /// # Errors
    /// Those of the store; `export-failed`.
    pub(crate) fn project(&self, workshop: &Workshop) -> Result<Vec<u8>, ApiError> {
        let edits = self.edits();
        let spools: BTreeSet<&str> = edits.iter().flat_map(|e| e.spools()).collect();
        let rack = workshop.rack()?.into_iter();
        let spools = rack.filter(|s| spools.contains(s.id.as_str())).collect();
        let mut contents = BTreeMap::new();
        for name in edits.iter().flat_map(|e| e.contents()) {
            let bytes = store::jobs::content(&mut *workshop.db.get()?, name)?;
            contents.insert(name.to_string(), bytes.ok_or(ApiError::NotFound("file"))?);
        }
        let project = Project {
            floor: self.floor.min(edits.len()),
            edits,
            spools,
            contents,
        };
        Ok(project.to_zip()?)
    }
}

impl Workshop {
    /// Makes a job of a project file. Spools that it names and the rack lacks are put on the rack; those that are there stay
    /// as they are.
    ///
    /// # Errors
    /// As for [`Project::from_zip`]; `project-incomplete` if a file is not the one it was; the problem with a model or
    /// an edit. Then nothing is kept.
    pub(crate) fn open_project(self: &Arc<Self>, bytes: &[u8]) -> Result<JobSummary, ApiError> {
        let project = Project::from_zip(bytes)?;
        for (name, bytes) in &project.contents {
            if *name != content_name(bytes) {
                return Err(Problem::new(
                    "project-incomplete",
                    "A file in this project is not the one it was",
                    format!("models/{name}"),
                    "Export the project again, and do not change the archive.",
                )
                .into());
            }
        }
        let contents: Vec<(String, &[u8])> = (project.contents.iter())
            .map(|(name, bytes)| (name.clone(), &bytes[..]))
            .collect();
        let summary = self.keep_new(&project.edits, project.floor, &contents)?;
        self.add_spools(project.spools)?;
        Ok(summary)
    }
}
