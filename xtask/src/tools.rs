//! Programs that the tests need and the machine may lack.

use crate::run::{is_installed, root, run};
use anyhow::{Result, bail};
use std::path::PathBuf;
use std::process::Command;

/// Makes sure of programs, installing Debian packages where that is possible.
fn ensure(programs: &[&str], packages: &[&str]) -> Result<()> {
    if programs.iter().all(|p| is_installed(p)) {
        return Ok(());
    }
    let by_hand = format!("apt-get install --yes {}", packages.join(" "));
    if !is_installed("apt-get") {
        bail!(
            "{} are needed; on Debian: {by_hand}",
            programs.join(" and ")
        );
    }
    let install = |arguments: &[&str]| {
        run(Command::new("apt-get")
            .env("DEBIAN_FRONTEND", "noninteractive")
            .args(arguments))
    };
    let mut arguments = vec!["install", "--yes", "--no-install-recommends"];
    arguments.extend(packages);
    let done = install(&["update"]).and_then(|()| install(&arguments));
    if done.is_err() || !programs.iter().all(|p| is_installed(p)) {
        bail!(
            "{} could not be installed. As root: {by_hand}",
            programs.join(" and ")
        );
    }
    Ok(())
}

/// Chromium and ChromeDriver, for the browser tests.
pub(crate) fn browser() -> Result<()> {
    ensure(
        &["chromium", "chromedriver"],
        &["chromium", "chromium-driver"],
    )
}

/// A Python with the 3MF Consortium's own library, which our 3MF files must open in without a warning.
pub(crate) fn python_with_lib3mf() -> Result<PathBuf> {
    const LIBRARY: &str = "lib3mf==2.5.0";
    let folder = root().join("target/python");
    let python = folder.join("bin/python3");
    let stamp = folder.join(LIBRARY);
    if !stamp.exists() {
        ensure(&["python3"], &["python3", "python3-venv"])?;
        let venv = |_: ()| run(Command::new("python3").args(["-m", "venv"]).arg(&folder));
        if venv(()).is_err() {
            // Debian's Python comes without venv unless asked for.
            ensure(&["python3-with-venv"], &["python3-venv"]).or_else(|_| venv(()))?;
        }
        run(Command::new(&python).args(["-m", "pip", "install", "--quiet", LIBRARY]))?;
        std::fs::write(stamp, "")?;
    }
    Ok(python)
}
