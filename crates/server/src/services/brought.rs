//! Files that come in with edits that name them, before they are in the store.

use super::workshop::Workshop;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_core::drawing::{DrawingSource, Flat};
use varichrom_core::job::Models;
use varichrom_core::model::OpenMesh;

/// The store, with some files that are not in it yet.
pub(super) struct Brought<'a> {
    pub(super) workshop: &'a Workshop,
    /// By content name.
    pub(super) files: &'a [(String, &'a [u8])],
}

impl Brought<'_> {
    fn file(&self, content: &str) -> Option<&[u8]> {
        let found = self.files.iter().find(|(name, _)| name == content);
        found.map(|(_, bytes)| *bytes)
    }
}

impl Models for Brought<'_> {
    fn open(&self, content: &str) -> Result<Arc<OpenMesh>, Problem> {
        if let Some(open) = self.workshop.remembered(content) {
            return Ok(open);
        }
        let Some(bytes) = self.file(content) else {
            return self.workshop.open(content);
        };
        let open = Arc::new(OpenMesh::from_bytes(bytes)?);
        self.workshop.remember(content, &open);
        Ok(open)
    }

    fn bytes(&self, content: &str) -> Result<Arc<Vec<u8>>, Problem> {
        match self.file(content) {
            Some(bytes) => Ok(Arc::new(bytes.to_vec())),
            None => self.workshop.bytes(content),
        }
    }

    fn drawing(&self, drawing: &DrawingSource) -> Result<Arc<Flat>, Problem> {
        self.workshop
            .flat_from(drawing, &|content| self.bytes(content))
    }
}
