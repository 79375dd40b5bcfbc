//! Small pictures of jobs for the shelf: kept with the revision that they show, drawn anew when somebody looks.

use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::store;
use std::sync::Arc;
use varichrom_core::handover::job_picture;
use varichrom_core::job::Job;

/// Width and height, pixels: twice what the shelf shows, for fine screens.
const SIZE: [u32; 2] = [144, 108];

impl Workshop {
    /// A job as a small picture, PNG. One that is not kept as the job stands has the job opened; one is drawn at a time, so that a long
    /// shelf keeps nobody from working.
    ///
    /// # Errors
    /// Not found for a job that is not there, or has nothing to see; why it cannot be opened.
    pub(crate) fn picture(self: &Arc<Workshop>, id: i32) -> Result<Vec<u8>, ApiError> {
        let kept = || store::pictures::of(&mut *self.db.get()?, id).map_err(ApiError::from);
        if let Some(png) = kept()? {
            return Ok(png);
        }
        let _turn = lock(&self.drawing);
        // Whoever waited may find it done.
        if let Some(png) = kept()? {
            return Ok(png);
        }
        let session = self.session(id)?;
        let revision = session.revision();
        let job = session.with_job(Job::clone);
        let png = job_picture(&job, SIZE).ok_or(ApiError::NotFound("picture"))?;
        if session.revision() == revision {
            store::pictures::keep(&mut *self.db.get()?, id, revision as i32, &png)?;
        }
        Ok(png)
    }
}
