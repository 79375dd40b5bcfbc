//! Every output of a job: what is in it, and the file.

mod against;
mod bodies;
mod browser;
mod checks;
mod manifest;
mod moves;
mod opened;
mod outputs;
mod parts_zip;
mod picture;
mod print;
mod rehearsing;
mod sliced;
mod slices;
mod slot_words;
mod tables;
mod threemf;

pub use bodies::{BodyDepth, ClosedBodies, ClosedBody, closed_bodies, exact_bodies};
pub use browser::{division_bytes, mesh_bytes, partition_bytes};
pub use checks::{Known, ReleaseCheck, ReleaseStage, care, release_checks};
pub use moves::{MovesFigure, MovesOf, moves_bytes};
pub use opened::{
    FileChange, FileFinding, FileLayer, FilePause, FileReport, FileSlot, OpenedFile,
    PlannedFigures, opened_file,
};
#[cfg(feature = "wire")]
pub use outputs::outputs_as_typescript;
pub use outputs::{Output, OutputKind};
pub use parts_zip::parts_zip;
pub use picture::job_picture;
pub use print::{
    Compared, PrintFile, PrintFiles, job_beads, job_layer_beads, job_scripts, print_files,
};
pub use rehearsing::{rehearsal_setup, rehearsal_setup_of_file, text_to_rehearse};
pub use sliced::{RewriteAsked, rewritten_for};
pub use slot_words::slot_names;
pub use tables::{plan_csv, plan_json};

use crate::Problem;
use crate::job::Job;

/// # Errors
/// `export-empty` for a job without models.
fn check_not_empty(job: &Job) -> Result<(), Problem> {
    if !job.models.is_empty() {
        return Ok(());
    }
    let message = "The job has no model, so there is nothing to write";
    Err(Problem::new(
        "export-empty",
        message,
        "",
        "Open a model first.",
    ))
}
