//! The version with the commit it was built from, where that is known.

use std::process::Command;

fn main() {
    let said = |args: &[&str]| {
        let out = Command::new("git").args(args).output().ok()?;
        let text = String::from_utf8(out.stdout).ok()?;
        Some(text.trim().to_string()).filter(|t| out.status.success() && !t.is_empty())
    };
    // Only a new commit makes it out of date, not every file.
    if let Some(head) = said(&["rev-parse", "--git-path", "logs/HEAD"]) {
        println!("cargo:rerun-if-changed={head}");
    }
    println!("cargo:rerun-if-env-changed=VARICHROM_COMMIT");
    let commit = std::env::var("VARICHROM_COMMIT").ok();
    let commit = commit.or_else(|| said(&["rev-parse", "--short=10", "HEAD"]));
    let version = env!("CARGO_PKG_VERSION");
    let whole = commit.map_or(version.to_string(), |c| format!("{version} ({c})"));
    println!("cargo:rustc-env=VARICHROM_VERSION={whole}");
}
