//! Several files in one ZIP, the same bytes every time.

use crate::Problem;
use std::io::{Cursor, Write};
use zip::write::SimpleFileOptions;

/// A ZIP of named files, in the order given, without dates.
///
/// # Errors
/// `export-failed` if the archive cannot be written, such as for two files of one name.
pub fn zip_files(files: &[(String, Vec<u8>)]) -> Result<Vec<u8>, Problem> {
    let write = || -> zip::result::ZipResult<Vec<u8>> {
        let mut archive = zip::ZipWriter::new(Cursor::new(Vec::new()));
        for (name, bytes) in files {
            archive.start_file(name.as_str(), SimpleFileOptions::default())?;
            archive.write_all(bytes)?;
        }
        Ok(archive.finish()?.into_inner())
    };
    write().map_err(|e| {
        let message = format!("The archive could not be written: {e}");
        Problem::new(
            "export-failed",
            message,
            "",
            "Rename parts that have the same name.",
        )
    })
}
