//! What Intake asks about a model beyond the job's view: where its defects are, what a mending would do, how it can
//! be divided.

use super::session::Session;
use super::workshop::lock;
use crate::error::ApiError;
use crate::wire::MendPreview;
use varichrom_core::advice::intake::{Split, split};
use varichrom_core::mesh::DefectKind;
use varichrom_core::model::{DefectPlace, Mending};

impl Session {
    /// Where the defects of one kind are, as the model stands now.
    pub(crate) fn defect_places(
        &self,
        model: usize,
        kind: DefectKind,
    ) -> Result<Vec<DefectPlace>, ApiError> {
        Ok(self.model(model)?.defect_places(kind))
    }

    /// What a mending would do, without doing it.
    pub(crate) fn mend_preview(
        &self,
        model: usize,
        mending: &Mending,
    ) -> Result<MendPreview, ApiError> {
        let (base, mending) = {
            let history = lock(&self.history);
            let job = history.job();
            let of = job.models.get(model).ok_or(ApiError::NotFound("model"))?;
            (of.base.clone(), job.in_file_lengths(model, mending))
        };
        let mended = base.mended(&mending)?;
        Ok(MendPreview {
            report: mended.report,
            facets: mended.open.mesh.facets.len(),
            parts: mended.open.parts.len(),
            closed: mended.open.is_closed(),
            defects: mended.open.defects.clone(),
        })
    }

    /// Whether a model can be split, and which way of colouring suits it.
    pub(crate) fn split(&self, model: usize, crease_deg: f64) -> Result<Split, ApiError> {
        let open = self.model(model)?;
        let printer = self.with_job(|job| job.printer.clone());
        Ok(split(&open, crease_deg, &printer))
    }
}
