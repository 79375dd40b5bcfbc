//! Licences of what the workspace is built with, held against the list of deny.toml.

use crate::run::{cargo_command, root};
use anyhow::{Context, Result, bail};
use std::fs;

/// Fails if a package can be had under no licence that is allowed.
pub(crate) fn check() -> Result<()> {
    let rules = fs::read_to_string(root().join("deny.toml")).context("deny.toml")?;
    let allowed = allowed_by(&rules);
    let shown = cargo_command(&["tree", "--workspace", "--prefix", "none", "--no-dedupe"])
        .args(["--edges", "normal,build,dev", "--format", "{p}\t{l}"])
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
        .filter(|line| !is_allowed(line.split('\t').nth(1).unwrap_or(""), &allowed))
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

/// Whether an expression of licences can be met. `AND` binds more than `OR`, brackets more than both; a stroke is an old `OR`.
fn is_allowed(expression: &str, allowed: &[&str]) -> bool {
    let expression = expression.replace('/', " OR ");
    let parts = |text: &str, word: &str| -> Vec<String> {
        let mut depth = 0;
        let mut parts = vec![String::new()];
        for token in text.split_whitespace() {
            if depth == 0 && token == word {
                parts.push(String::new());
                continue;
            }
            depth += token.matches('(').count();
            depth = depth.saturating_sub(token.matches(')').count());
            if let Some(last) = parts.last_mut() {
                last.push_str(token);
                last.push(' ');
            }
        }
        parts.iter().map(|p| p.trim().to_string()).collect()
    };
    parts(&expression, "OR").iter().any(|either| {
        parts(either, "AND").iter().all(|both| {
            let inner = both.strip_prefix('(').and_then(|b| b.strip_suffix(')'));
            inner.map_or_else(
                || allowed.contains(&both.as_str()),
                |b| is_allowed(b, allowed),
            )
        })
    })
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
        for wrong in ["", "GPL-3.0", "MIT AND GPL-3.0", "(GPL-2.0 OR X) AND MIT"] {
            assert!(!is_allowed(wrong, &allowed), "{wrong}");
        }
    }
}
