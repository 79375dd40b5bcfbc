//! From a file to a new job on the shelf.

use super::session::Session;
use super::workshop::Workshop;
use crate::error::ApiError;
use crate::store;
use crate::wire::JobSummary;
use sha2::{Digest, Sha256};
use std::sync::Arc;
use varichrom_core::job::{Edit, History};
use varichrom_core::mesh::OpenMesh;

impl Workshop {
    /// Makes a job of one model file.
    ///
    /// `file`: its name. `name`: the job's, else the file's without its ending. `edits`: applied after the model is
    /// open, as part of the opening. Without any, the first spools of the rack are put into the slots.
    ///
    /// # Errors
    /// The problem with the file or an edit; then nothing is kept.
    pub fn import(
        self: &Arc<Self>,
        file: &str,
        name: Option<&str>,
        model: Option<&str>,
        bytes: &[u8],
        edits: Option<Vec<Edit>>,
    ) -> Result<JobSummary, ApiError> {
        let open = Arc::new(OpenMesh::from_bytes(bytes)?);
        let hash: String = Sha256::digest(bytes)
            .iter()
            .map(|b| format!("{b:02x}"))
            .collect();
        self.remember(&hash, &open);
        let stem = readable(file);
        let opened = Edit::OpenModel {
            model: model.unwrap_or(&stem).to_string(),
            file: file.chars().take(255).collect(),
            content: hash.clone(),
        };
        let mut all = vec![
            Edit::RenameJob {
                name: name.unwrap_or(&stem).to_string(),
            },
            opened,
        ];
        all.extend(match edits {
            Some(edits) => edits,
            None => self.usual_start()?,
        });
        let head = all.len();
        let history = History::replay(all.clone(), head, self.as_ref())?;
        let summary = Session::summary_of(0, &history, None);
        let text =
            serde_json::to_string(&summary).map_err(|e| ApiError::Internal(e.to_string()))?;
        let standing = store::jobs::Standing {
            name: &history.job().name,
            head,
            summary: &text,
        };
        let files = [(hash, bytes)];
        let id = store::jobs::create(&mut *self.db.get()?, &standing, &all, head, &files)?;
        Ok(JobSummary { id, ..summary })
    }

    /// The first spools of the rack in the slots of the default printer, and the first one's colour for the first
    /// region.
    fn usual_start(&self) -> Result<Vec<Edit>, ApiError> {
        let rack = self.rack()?;
        let slots = usize::from(varichrom_core::machine::Printer::default().slots);
        let mut edits: Vec<Edit> = (1u8..)
            .zip(rack.iter().take(slots))
            .map(|(slot, spool)| Edit::LoadSlot {
                slot,
                spool: Some(spool.id.clone()),
            })
            .collect();
        if let Some(first) = rack.first() {
            edits.push(Edit::RecolourRegion {
                region: "base".into(),
                colour: first.colour,
            });
        }
        Ok(edits)
    }
}

/// A file's name as a title: without folder and ending, hyphens and underscores as spaces, a capital first.
fn readable(file: &str) -> String {
    let base = file.rsplit(['/', '\\']).next().unwrap_or(file);
    let stem = base.rsplit_once('.').map_or(base, |(stem, _)| stem);
    let words = stem.replace(['_', '-'], " ");
    let mut letters = words.trim().chars().take(120);
    match letters.next() {
        Some(first) => first.to_uppercase().chain(letters).collect(),
        None => "Model".into(),
    }
}
