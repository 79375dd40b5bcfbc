//! The front end: packages, build, checks, generated types.

use crate::BUILT;
use crate::run::{cargo, root, run};
use anyhow::{Context, Result, bail};
use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::SystemTime;

fn web() -> PathBuf {
    root().join("web")
}

fn npm(arguments: &[&str]) -> Command {
    let mut command = Command::new("npm");
    command.arg("--prefix").arg(web()).args(arguments);
    command
}

/// Installs the packages if the lock file is newer than what is installed.
fn install() -> Result<()> {
    let installed = web().join("node_modules/.package-lock.json");
    if newest(&web().join("package-lock.json"))?
        > newest(&installed).unwrap_or(SystemTime::UNIX_EPOCH)
    {
        // Not `npm ci`: it fails where a registry lacks packages that are only for other systems. Versions are the
        // lock file's all the same, and `--no-save` leaves it as it is.
        run(npm(&["install", "--no-save", "--no-audit", "--no-fund"]).env("CI", "true"))?;
        // npm keeps the dates of what it unpacks; the stamp must be newer than the lock.
        let text = fs::read(&installed)?;
        fs::write(&installed, text)?;
    }
    Ok(())
}

/// Builds the front end if any of its sources is newer than the last build.
pub(crate) fn build() -> Result<()> {
    install()?;
    let mut changed = SystemTime::UNIX_EPOCH;
    for source in [
        "src",
        "public",
        "index.html",
        "vite.config.ts",
        "package-lock.json",
    ] {
        changed = changed.max(newest(&web().join(source))?);
    }
    let built = web().join("dist/index.html");
    if changed > newest(&built).unwrap_or(SystemTime::UNIX_EPOCH) {
        run(&mut npm(&["run", "build"]))?;
    }
    Ok(())
}

/// TypeScript and lint.
pub(crate) fn check() -> Result<()> {
    install()?;
    run(&mut npm(&["run", "check"]))
}

/// Generates the TypeScript of the wire types into a folder, which holds nothing else afterwards.
pub(crate) fn generate_types(folder: &Path) -> Result<()> {
    let _ = fs::remove_dir_all(folder);
    fs::create_dir_all(folder)?;
    cargo(&BUILT)?;
    run(Command::new(root().join("target/debug/wire-types")).arg(folder))
}

/// Fails if the generated types are not what the Rust types say now.
pub(crate) fn check_types() -> Result<()> {
    let kept = web().join("src/api/generated");
    let fresh = root().join("target/generated-types");
    generate_types(&fresh)?;
    let names = |folder: &Path| -> Result<Vec<String>> {
        let mut names = fs::read_dir(folder)
            .with_context(|| folder.display().to_string())?
            .map(|e| Ok(e?.file_name().to_string_lossy().into_owned()))
            .collect::<Result<Vec<_>>>()?;
        names.sort();
        Ok(names)
    };
    let all = names(&fresh)?;
    let same = all == names(&kept)?
        && all
            .iter()
            .all(|n| fs::read(fresh.join(n)).ok() == fs::read(kept.join(n)).ok());
    if !same {
        bail!("web/src/api/generated is out of date: run `cargo xtask types` and commit it");
    }
    Ok(())
}

/// When a file, or the newest file below a folder, was last written.
fn newest(path: &Path) -> Result<SystemTime> {
    let data = fs::metadata(path).with_context(|| path.display().to_string())?;
    if data.is_file() {
        return Ok(data.modified()?);
    }
    let mut latest = SystemTime::UNIX_EPOCH;
    for entry in fs::read_dir(path)? {
        latest = latest.max(newest(&entry?.path())?);
    }
    Ok(latest)
}
