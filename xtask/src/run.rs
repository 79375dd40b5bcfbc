//! Running other programs.

use anyhow::{Context, Result, bail};
use std::path::{Path, PathBuf};
use std::process::Command;

/// The workspace's folder.
pub(crate) fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .parent()
        .map_or_else(PathBuf::new, Path::to_path_buf)
}

/// Runs a command in the workspace; fails with its name if it does.
pub(crate) fn run(command: &mut Command) -> Result<()> {
    let name = command.get_program().to_string_lossy().into_owned();
    let arguments: Vec<String> = command
        .get_args()
        .map(|a| a.to_string_lossy().into_owned())
        .collect();
    eprintln!("» {name} {}", arguments.join(" "));
    let status = command
        .current_dir(root())
        .status()
        .with_context(|| format!("{name} cannot be started; is it installed?"))?;
    if !status.success() {
        bail!("{name} {} failed", arguments.join(" "));
    }
    Ok(())
}

/// A cargo command of the toolchain that runs this.
pub(crate) fn cargo_command(arguments: &[&str]) -> Command {
    let cargo = std::env::var_os("CARGO").unwrap_or_else(|| "cargo".into());
    let mut command = Command::new(cargo);
    command.args(arguments);
    command
}

/// Runs cargo.
pub(crate) fn cargo(arguments: &[&str]) -> Result<()> {
    run(&mut cargo_command(arguments))
}

/// Whether a program can be started from the path.
pub(crate) fn is_installed(program: &str) -> bool {
    std::env::var_os("PATH")
        .is_some_and(|path| std::env::split_paths(&path).any(|dir| dir.join(program).is_file()))
}
