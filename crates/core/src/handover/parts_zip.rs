//! A ZIP with one STL for each closed body, and a note of what STL cannot carry.

use super::bodies::{ClosedBodies, ClosedBody};
use crate::Problem;
use crate::formats::{write_stl, zip_files};
use crate::job::Job;
use std::fmt::Write;

/// A ZIP with a binary STL for each body, named after job, part, region and date, and a note with what STL cannot carry.
/// `date` is that of the files, as in 2031-05-24.
///
/// # Errors
/// `export-failed` if the writer refuses.
pub fn parts_zip(job: &Job, bodies: &ClosedBodies, date: &str) -> Result<Vec<u8>, Problem> {
    let mut files = Vec::new();
    let mut note = String::from(
        "STL carries shape only. It has lost: colours on the surface, names, units (all files are in millimetres), slots and \
         the plan.\n\
         All files share one origin and stand on the bed as the job does: load them together as one object.\n\n",
    );
    for (number, body) in bodies.bodies.iter().enumerate() {
        let name = file_name(job, body, number + 1, date);
        // Writing to a string cannot fail.
        let _ = writeln!(
            note,
            "{name}: {}, {} {}, {:.1} mm³",
            body.part, body.region, body.colour, body.volume_mm3
        );
        let facets = 0..body.solid.mesh.facets.len() as u32;
        let title = format!("{} {}", body.part, body.region);
        files.push((name, write_stl(&body.solid.mesh, facets, &title)));
    }
    for told in &bodies.told {
        let _ = writeln!(note, "\n{}. {}", told.message, told.mend);
    }
    if job.copies.count() > 1 {
        let _ = writeln!(
            note,
            "\nThe job prints {} pieces, {} mm apart; the files hold one of them.",
            job.copies.count(),
            job.copies.spacing_mm
        );
    }
    files.push(("READ-ME.txt".into(), note.into_bytes()));
    zip_files(&files)
}

/// What a body's file is called.
fn file_name(job: &Job, body: &ClosedBody, number: usize, date: &str) -> String {
    let [job, part, region] = [&job.name, &body.part, &body.region].map(|name| plain(name));
    format!("{number:02}-{job}-{part}-{region}-{date}.stl")
}

/// Letters, digits and hyphens of a name, for use in a file name; never empty.
fn plain(name: &str) -> String {
    let mut out = String::new();
    for c in name.chars().flat_map(char::to_lowercase).take(40) {
        if c.is_alphanumeric() {
            out.push(c);
        } else if !out.ends_with('-') && !out.is_empty() {
            out.push('-');
        }
    }
    let out = out.trim_end_matches('-').to_string();
    if out.is_empty() {
        "unnamed".into()
    } else {
        out
    }
}
