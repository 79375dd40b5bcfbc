//! `rewrite`: sliced files put right for a recipe's printer and spools.

use super::commands::{in_file, print, read, replayed, unwritable};
use serde::Serialize;
use std::path::{Path, PathBuf};
use varichrom_core::advice::planned;
use varichrom_core::gcode::{Rewritten, difference_text};
use varichrom_core::handover::{RewriteAsked, rewritten_for};
use varichrom_core::plan::Planner;
use varichrom_core::{Problem, counted};

/// Options of `rewrite`.
#[derive(clap::Args)]
pub(crate) struct RewriteOptions {
    /// A print file, or one for each pass, in order.
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// The recipe: its printer and spools, and the changes of its plan where it has models.
    #[arg(long)]
    with: PathBuf,
    /// Folder for the results.
    #[arg(long)]
    out: PathBuf,
    /// Slot of a tool of the file, such as 0=3; else the slot after its number.
    #[arg(long = "tool", value_name = "TOOL=SLOT")]
    tools: Vec<String>,
    /// Slot that each pause of the file is for, or that each file prints, in order, such as 2,1,3.
    #[arg(long, value_delimiter = ',')]
    turns: Vec<u8>,
    /// A change to put in: layer from 1, and slot, such as 40=2.
    #[arg(long = "change", value_name = "LAYER=SLOT")]
    changes: Vec<String>,
    /// Make purge that is pressed out what the printer's melt zone needs.
    #[arg(long)]
    purge: bool,
}

/// What `rewrite` says.
#[derive(Serialize)]
struct Report {
    /// The file that was written.
    file: String,
    #[serde(flatten)]
    found: Rewritten,
}

pub(crate) fn rewrite(options: &RewriteOptions, is_json: bool) -> Result<(), Problem> {
    let (recipe, _, history) = replayed(&options.with)?;
    let job = history.job();
    let asked = RewriteAsked {
        tools: options
            .tools
            .iter()
            .map(|t| pair(t, "--tool", 0))
            .collect::<Result<_, _>>()?,
        turns: options.turns.clone(),
        changes: options
            .changes
            .iter()
            .map(|t| pair(t, "--change", 1).map(|(layer, slot)| (layer as usize - 1, slot)))
            .collect::<Result<_, _>>()?,
        purge: options.purge,
    };
    let texts = options.files.iter().map(|file| text(file));
    let texts = texts.collect::<Result<Vec<_>, _>>()?;
    let mut planner = Planner::default();
    let plan = match job.models.is_empty() {
        true => None,
        false => Some(planned(&mut planner, job, &recipe.spools, &|_| true)?),
    };
    let found = rewritten_for(
        (job, &recipe.spools),
        plan.as_ref().map(|p| &p.plan),
        &texts,
        &asked,
    );
    let found = found.map_err(|p| match &options.files[..] {
        [file] => in_file(file, p),
        _ => p,
    })?;
    let stem = options.files[0].file_stem().unwrap_or_default();
    let name = format!("{}.gcode", stem.to_string_lossy());
    let report = Report {
        file: options.out.join(&name).display().to_string(),
        found,
    };
    let write = || -> std::io::Result<()> {
        std::fs::create_dir_all(&options.out)?;
        std::fs::write(options.out.join(&name), &report.found.text)?;
        let differences = difference_text(&report.found.differences);
        std::fs::write(options.out.join("differences.txt"), differences)?;
        if !report.found.splices.is_empty() {
            let splices = serde_json::json!({ "splices": report.found.splices });
            std::fs::write(options.out.join("splices.json"), format!("{splices:#}\n"))?;
        }
        let told = serde_json::to_string_pretty(&report).map_err(std::io::Error::other)?;
        std::fs::write(options.out.join("rewrite.json"), told + "\n")
    };
    write().map_err(|e| unwritable(&options.out, &e))?;
    print(&report, is_json, || {
        let mut said = format!(
            "{}: {}",
            report.file,
            counted(report.found.differences.len(), "difference")
        );
        if !report.found.splices.is_empty() {
            said += &format!(", {}", counted(report.found.splices.len(), "length"));
            said += " of strand";
        }
        for left in &report.found.left {
            said += &format!("\n  left as it is: {left}");
        }
        said
    });
    Ok(())
}

/// A file as text. What is no text is told by its bytes.
fn text(file: &Path) -> Result<String, Problem> {
    Ok(String::from_utf8_lossy(&read(file)?).into_owned())
}

/// `A=B`.
fn pair(text: &str, option: &str, least: u32) -> Result<(u32, u8), Problem> {
    let numbers = text.split_once('=').and_then(|(a, b)| {
        let a: u32 = a.trim().parse().ok()?;
        Some((a, b.trim().parse().ok()?))
    });
    numbers.filter(|(a, _)| *a >= least).ok_or_else(|| {
        Problem::new(
            "option-unreadable",
            format!("“{text}” is no pair of numbers"),
            option,
            "Write two whole numbers with = between them, such as 2=1.",
        )
    })
}
