//! A ZIP with one STL for each closed body, and a note of what STL cannot carry.

use super::bodies::{ClosedBodies, ClosedBody};
use crate::Problem;
use crate::formats::{write_stl, zip_files};
use crate::job::Job;
use std::fmt::Write;

/// A ZIP with a binary STL for each body, named after job, part, region and date, and a table and a note with what STL cannot carry.
/// `date` is that of the files, as in 2031-05-24.
///
/// # Errors
/// `export-failed` if the writer refuses.
pub fn parts_zip(job: &Job, bodies: &ClosedBodies, date: &str) -> Result<Vec<u8>, Problem> {
    let mut files = Vec::new();
    let mut table = vec![
        "file,part,region,colour,red,green,blue,material,hides_percent,volume_mm3\r\n".to_string(),
    ];
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
        table.push(body_row(job, body, &name));
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
    files.push(("bodies.csv".into(), table.concat().into_bytes()));
    files.push(("READ-ME.txt".into(), note.into_bytes()));
    zip_files(&files)
}

/// A body as a row of the table (RFC 4180): what STL cannot say of it.
fn body_row(job: &Job, body: &ClosedBody, file: &str) -> String {
    let part = &job.models[body.of.0].parts[body.of.1];
    let jets = job.printer.profile().jets;
    let material = match job.made_of(part) {
        Some(material) if jets => material.words(),
        _ => part.made_of.clone().filter(|_| jets).unwrap_or_default(),
    };
    let hides = if jets { 100.0 * part.opacity } else { 100.0 };
    let quoted = |text: &str| format!("\"{}\"", text.replace('"', "\"\""));
    let [r, g, b] = body.colour.0;
    format!(
        "{},{},{},{},{r},{g},{b},{},{hides:.0},{:.1}\r\n",
        quoted(file),
        quoted(&body.part),
        quoted(&body.region),
        body.colour,
        quoted(&material),
        body.volume_mm3
    )
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
