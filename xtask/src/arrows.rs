//! The arrows between the rooms of the core: a room knows only rooms above its own line.
//!
//! Crate borders would hold this as well, but every room knows `Problem`, and a tool of Colour reaches through ten of them: as
//! crates each change would build through ten links. So the borders are looked after here, by the words `crate::room`.

use crate::run::root;
use anyhow::{Context, Result, bail};
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

/// Rooms in order: each may know those before it.
const ROOMS: [&str; 24] = [
    "problem",
    "limits",
    "geometry",
    "shapes",
    "mesh",
    "colour",
    "formats",
    "model",
    "carve",
    "regions",
    "solids",
    "drawing",
    "layers",
    "rinse",
    "machine",
    "order",
    "rules",
    "plan",
    "paths",
    "gcode",
    "rehearsal",
    "job",
    "advice",
    "handover",
];

/// Pairs of rooms of which the lower does not know the upper either: a plan is of a task and a job of edits, and only advice
/// brings the two together.
const APART: [(&str, &str); 1] = [("job", "plan")];

/// Fails if a file of the core knows a room below its own.
pub(crate) fn check() -> Result<()> {
    let source = root().join("crates/core/src");
    let mut up: BTreeMap<(String, String), BTreeSet<PathBuf>> = BTreeMap::new();
    let mut files = Vec::new();
    collect(&source, &mut files)?;
    for file in files {
        let inside = file.strip_prefix(&source).context("a file of the core")?;
        let Some(room) = inside.iter().next().and_then(|n| n.to_str()) else {
            continue;
        };
        let room = room.trim_end_matches(".rs");
        if room == "lib" {
            continue;
        }
        let line = |name: &str| ROOMS.iter().position(|r| *r == name);
        let own = line(room)
            .with_context(|| format!("the room {room} has no place in xtask/src/arrows.rs"))?;
        for known in rooms_named(&fs::read_to_string(&file)?) {
            let is_apart = APART.contains(&(room, known.as_str()));
            if is_apart || line(&known).is_some_and(|line| line > own) {
                up.entry((room.to_string(), known))
                    .or_default()
                    .insert(inside.to_path_buf());
            }
        }
    }
    let wrong: Vec<String> = up
        .iter()
        .map(|((from, to), files)| {
            let names: Vec<String> = files.iter().map(|f| f.display().to_string()).collect();
            format!("{from} knows {to}: {}", names.join(", "))
        })
        .collect();
    if wrong.is_empty() {
        return Ok(());
    }
    bail!(
        "arrows between rooms of the core run the wrong way:\n  {}",
        wrong.join("\n  ")
    )
}

/// Every `crate::room` in a text, in lists as well.
fn rooms_named(text: &str) -> BTreeSet<String> {
    const START: &str = "crate::";
    let mut found = BTreeSet::new();
    let word = |text: &str| -> String {
        text.chars()
            .take_while(|c| c.is_alphanumeric() || *c == '_')
            .collect()
    };
    for (at, _) in text.match_indices(START) {
        let after = &text[at + START.len()..];
        let Some(list) = after.strip_prefix('{') else {
            found.insert(word(after));
            continue;
        };
        // The first word of each entry of the list, lists within it left aside.
        let mut depth = 0;
        let mut is_first = true;
        for (i, c) in list.char_indices() {
            match c {
                '{' => depth += 1,
                '}' if depth == 0 => break,
                '}' => depth -= 1,
                ',' if depth == 0 => is_first = true,
                c if depth == 0 && is_first && c.is_alphanumeric() => {
                    found.insert(word(&list[i..]));
                    is_first = false;
                }
                _ => {}
            }
        }
    }
    found
}

fn collect(folder: &Path, files: &mut Vec<PathBuf>) -> Result<()> {
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            collect(&path, files)?;
        } else if path.extension().is_some_and(|e| e == "rs") {
            files.push(path);
        }
    }
    files.sort();
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::rooms_named;

    #[test]
    fn rooms_are_found_wherever_they_are_named() {
        let text = "use crate::mesh::{Topology, Mesh};\nuse crate::{Problem, job::{Edit, Job}, plan};\nlet x = crate::colour::grey(1);";
        let found: Vec<String> = rooms_named(text).into_iter().collect();
        assert_eq!(found, ["Problem", "colour", "job", "mesh", "plan"]);
    }
}
