//! Licences of what the workspace is built with, held against the list of deny.toml.

use crate::run::{cargo_command, root};
use anyhow::{Context, Result, bail};
use spdx::{Expression, LicenseReq, ParseMode};
use std::fs;

/// Fails if a package can be had under no licence that is allowed.
pub(crate) fn check() -> Result<()> {
    let rules = fs::read_to_string(root().join("deny.toml")).context("deny.toml")?;
    let allowed = allowed_by(&rules);
    let shown = cargo_command(&["tree", "--workspace", "--prefix", "none", "--no-dedupe"])
        .args(["--edges", "normal,build,dev", "--format", "{l}\t{p}"])
        .current_dir(root())
        .output()
        .context("cargo tree")?;
    if !shown.status.success() {
        bail!("cargo tree: {}", String::from_utf8_lossy(&shown.stderr));
    }
    let text = String::from_utf8(shown.stdout)?;
    let mut wrong: Vec<&str> = text
        .lines()
        .filter(|line| !line.is_empty())
        .filter(|line| !is_allowed(line.split('\t').next().unwrap_or(""), &allowed))
        .collect();
    wrong.sort_unstable();
    wrong.dedup();
    if wrong.is_empty() {
        return Ok(());
    }
    bail!(
        "packages under licences that deny.toml does not allow:\n  {}",
        wrong.join("\n  ")
    )
}

/// The quoted words of the list `allow`.
fn allowed_by(rules: &str) -> Vec<&str> {
    let list = rules.split_once("allow = [").map_or("", |(_, after)| after);
    let list = list.split_once(']').map_or(list, |(list, _)| list);
    list.split('"').skip(1).step_by(2).collect()
}

/// Whether an expression of licences can be met; those of old packages, with a stroke for `OR`, are read as well.
fn is_allowed(expression: &str, allowed: &[&str]) -> bool {
    let is_met = |asked: &LicenseReq| allowed.contains(&asked.to_string().as_str());
    Expression::parse_mode(expression, ParseMode::LAX).is_ok_and(|e| e.evaluate(is_met))
}

#[cfg(test)]
mod tests {
    use super::{allowed_by, is_allowed};

    #[test]
    fn expressions_are_met_by_what_is_allowed() {
        let allowed =
            allowed_by("[licenses]\nallow = [\n  \"MIT\",\n  \"Unicode-3.0\",\n]\n[x]\n\"GPL\"");
        assert_eq!(allowed, ["MIT", "Unicode-3.0"]);
        for fine in [
            "MIT",
            "MIT/Apache-2.0",
            "GPL-3.0 OR MIT",
            "(MIT OR Apache-2.0) AND Unicode-3.0",
        ] {
            assert!(is_allowed(fine, &allowed), "{fine}");
        }
        for wrong in [
            "",
            "GPL-3.0",
            "MIT AND GPL-3.0",
            "(GPL-2.0 OR X) AND MIT",
            "Apache-2.0 WITH LLVM-exception",
        ] {
            assert!(!is_allowed(wrong, &allowed), "{wrong}");
        }
    }
}
