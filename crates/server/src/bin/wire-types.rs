//! Writes the wire types as TypeScript into a folder: `wire-types FOLDER`. A program and not a test for each type, so that neither
//! library is built a second time for tests of its own.

use std::process::ExitCode;

fn main() -> ExitCode {
    let Some(folder) = std::env::args_os().nth(1) else {
        eprintln!("Name the folder: wire-types FOLDER");
        return ExitCode::FAILURE;
    };
    match varichrom_server::export_types(folder.as_ref()) {
        Ok(()) => ExitCode::SUCCESS,
        Err(e) => {
            eprintln!("The types cannot be written: {e}");
            ExitCode::FAILURE
        }
    }
}
