//! The commands that need no server: `inspect`, `patches`, `rinse`, `run`.

use super::out;
use super::report::{Inspection, PatchReport, PrintReport};
use serde::Serialize;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use varichrom_core::advice::load::PrinterReport;
use varichrom_core::advice::{Advice, Caution, Trial, planned};
use varichrom_core::colour::{Colour, Pigment};
use varichrom_core::formats::Reading;
use varichrom_core::gcode::summary;
use varichrom_core::handover::{
    BodyDepth, Compared, closed_bodies, parts_zip, plan_csv, plan_json, print_files,
};
use varichrom_core::job::{History, Models, Recipe};
use varichrom_core::limits::check_crease;
use varichrom_core::machine::Printer;
use varichrom_core::model::OpenMesh;
use varichrom_core::plan::Planner;
use varichrom_core::{Problem, counted};

/// Bytes of a file; of standard input for `-`.
pub(crate) fn read(file: &Path) -> Result<Vec<u8>, Problem> {
    let read = match file == Path::new("-") {
        true => {
            let mut bytes = Vec::new();
            std::io::Read::read_to_end(&mut std::io::stdin(), &mut bytes).map(|_| bytes)
        }
        false => std::fs::read(file),
    };
    read.map_err(|e| {
        let message = format!("The file {} cannot be read: {e}", file.display());
        Problem::new(
            "file-unreadable",
            message,
            file.display().to_string(),
            "Check the path.",
        )
    })
}

pub(crate) fn unwritable(out: &Path, e: &std::io::Error) -> Problem {
    Problem::new(
        "out-unwritable",
        format!("The results cannot be written: {e}"),
        out.display().to_string(),
        "Choose another folder with --out.",
    )
}

/// Puts the file's name before the place of a problem with its bytes.
pub(crate) fn in_file(file: &Path, problem: Problem) -> Problem {
    let place = match problem.place {
        Some(place) => format!("{}, {place}", file.display()),
        None => file.display().to_string(),
    };
    Problem {
        place: Some(place),
        ..problem
    }
}

fn open(file: &Path) -> Result<OpenMesh, Problem> {
    // An OBJ names its material file; it is looked for beside it and nowhere else.
    let folder = file.parent().unwrap_or(Path::new(""));
    let reading = Reading {
        beside: &|name| std::fs::read(folder.join(name)).ok(),
        progress: &|_| true,
    };
    OpenMesh::read(&read(file)?, &reading).map_err(|p| in_file(file, p))
}

pub(crate) fn print(value: &impl Serialize, is_json: bool, text: impl FnOnce() -> String) {
    let text = if is_json {
        match serde_json::to_string_pretty(value) {
            Ok(json) => json,
            Err(e) => return out::warn(e),
        }
    } else {
        text().trim_end().to_string()
    };
    out::say(text);
}

/// What `inspect` says of a file.
#[derive(Serialize)]
#[serde(untagged)]
enum Inspected {
    Model(Inspection),
    Print(PrintReport),
}

impl Inspected {
    fn of(file: &Path, filament_mm: f64) -> Result<Inspected, Problem> {
        let name = file.display().to_string();
        let ending = file.extension().map(|e| e.to_ascii_lowercase());
        let is_print = ending.is_some_and(|e| ["gcode", "gco", "g", "nc"].iter().any(|g| e == *g));
        if !is_print {
            return Ok(Inspected::Model(Inspection::of(&name, &open(file)?)));
        }
        let text = String::from_utf8_lossy(&read(file)?).into_owned();
        let found = summary(&text, filament_mm).map_err(|p| in_file(file, p))?;
        Ok(Inspected::Print(PrintReport::of(name, found)))
    }

    fn text(&self) -> String {
        match self {
            Inspected::Model(model) => model.text(),
            Inspected::Print(print) => print.text(),
        }
    }
}

/// `inspect FILE...`: models and print files.
pub(crate) fn inspect(files: &[PathBuf], filament_mm: f64, is_json: bool) -> Result<(), Problem> {
    let all = files
        .iter()
        .map(|f| Inspected::of(f, filament_mm))
        .collect::<Result<Vec<_>, Problem>>()?;
    match &all[..] {
        [one] => print(one, is_json, || one.text()),
        many => print(&many, is_json, || {
            many.iter().map(Inspected::text).collect()
        }),
    }
    Ok(())
}

/// `patches FILE --crease DEG`
pub(crate) fn patches(file: &Path, crease_deg: f64, is_json: bool) -> Result<(), Problem> {
    check_crease(crease_deg, "--crease")?;
    let open = open(file)?;
    let partition = open.creases().partition(&open.topology, crease_deg);
    let patches = partition
        .describe(&open)
        .into_iter()
        .map(Into::into)
        .collect();
    let report = PatchReport {
        crease_deg,
        patches,
    };
    print(&report, is_json, || {
        let patches = match report.patches.len() {
            1 => "1 patch".to_string(),
            n => format!("{n} patches"),
        };
        let mut text = format!("{patches} at {crease_deg}°\n");
        for (i, p) in report.patches.iter().enumerate() {
            let facets = counted(p.facets as usize, "facet");
            text += &format!("  {i}: {facets}, {:.2} mm²\n", p.area_mm2);
        }
        text
    });
    Ok(())
}

/// `rinse --from '#rrggbb' --to '#rrggbb'`
pub(crate) fn rinse(
    from: &str,
    to: &str,
    tolerance: Option<f64>,
    printer: Option<&Path>,
    is_json: bool,
) -> Result<(), Problem> {
    let pigment = |option: &str, text: &str| -> Result<Pigment, Problem> {
        let colour: Colour = text
            .parse()
            .map_err(|e: varichrom_core::colour::ColourError| {
                let mend = "Write six hexadecimal digits after a #.";
                Problem::new(
                    "colour-unreadable",
                    format!("The colour is wrong: {e}"),
                    option,
                    mend,
                )
            })?;
        Ok(Pigment {
            colour,
            tinting: 1.0,
        })
    };
    let (from, to) = (pigment("--from", from)?, pigment("--to", to)?);
    let mut machine = match printer {
        None => Printer::default(),
        Some(file) => serde_json::from_slice(&read(file)?).map_err(|e| {
            let message = format!("The printer cannot be read: {e}");
            let mend = "docs/recipes.md lists every field of a printer.";
            Problem::new(
                "printer-unreadable",
                message,
                file.display().to_string(),
                mend,
            )
        })?,
    };
    machine.tolerance = tolerance.unwrap_or(machine.tolerance);
    machine.check()?;
    let rinse = varichrom_core::rinse::rinse(machine.melt, from, to, machine.tolerance, 65)
        .at_least(machine.least_flush());
    print(&rinse, is_json, || {
        format!(
            "{} → {}: purge {:.1} mm³, {:.1} mm of filament, to ΔE {}",
            from.colour, to.colour, rinse.purge_mm3, rinse.purge_mm, rinse.tolerance
        )
    });
    Ok(())
}

/// Models beside a recipe.
pub(crate) struct Folder(PathBuf);

impl Models for Folder {
    fn open(&self, file: &str) -> Result<Arc<OpenMesh>, Problem> {
        open(&self.0.join(file)).map(Arc::new)
    }

    fn bytes(&self, file: &str) -> Result<Arc<Vec<u8>>, Problem> {
        read(&self.0.join(file)).map(Arc::new)
    }
}

/// `run RECIPE.json --out DIR`
///
/// What the plan warns of goes to standard error; with `is_strict` it is a failure. The results are written all the same.
/// Ways to stand that are planned in full: the best of those that are compared.
const MOST_POSES: usize = 5;

/// A recipe with the folder of its files, and the job that its edits make.
pub(crate) fn replayed(recipe_file: &Path) -> Result<(Recipe, Folder, History), Problem> {
    let recipe = Recipe::from_json(&read(recipe_file)?).map_err(|p| in_file(recipe_file, p))?;
    let folder = Folder(recipe_file.parent().unwrap_or(Path::new("")).to_path_buf());
    let edits = recipe.all_edits();
    let opening = edits.len() - recipe.edits.len();
    let mut history = History::replay(edits[..opening].to_vec(), opening, &folder)?;
    for (index, edit) in recipe.edits.iter().enumerate() {
        history.apply(edit.clone(), &folder).map_err(|p| Problem {
            place: Some(match &p.place {
                Some(place) => format!("edit {}, {place}", index + 1),
                None => format!("edit {}", index + 1),
            }),
            ..p
        })?;
    }
    Ok((recipe, folder, history))
}

pub(crate) fn advise(recipe_file: &Path, poses: bool, is_json: bool) -> Result<(), Problem> {
    let (recipe, folder, history) = replayed(recipe_file)?;
    let job = history.job();
    let mut planner = Planner::default();
    let plan = planned(&mut planner, job, &recipe.spools, &|_| true)?;
    let trial = Trial {
        job,
        spools: &recipe.spools,
        planner: &planner,
        plan: &plan,
        models: &folder,
        go_on: &|| true,
    };
    let advice = trial.advice(&[], if poses { MOST_POSES } else { 0 })?;
    print(&serde_json::json!({ "advice": advice }), is_json, || {
        if advice.is_empty() {
            return "Nothing was found that would make it cheaper.".into();
        }
        let line = |a: &Advice| {
            let look = if a.keeps_look {
                "looks the same"
            } else {
                "changes the look"
            };
            format!(
                "{} ({look}): saves {}, {:.2} g of purge, {:.0} min",
                a.words,
                counted(a.saves.swaps.max(0) as usize, "swap"),
                a.saves.purge_g,
                a.saves.time_s / 60.0
            )
        };
        advice.iter().map(line).collect::<Vec<_>>().join("\n")
    });
    Ok(())
}

pub(crate) fn run(
    recipe_file: &Path,
    out: &Path,
    is_strict: bool,
    is_json: bool,
) -> Result<(), Problem> {
    let (recipe, _, history) = replayed(recipe_file)?;
    let job = history.job();
    let mut planner = Planner::default();
    let plan = planned(&mut planner, job, &recipe.spools, &|_| true)?;
    let printed = print_files(
        job,
        &recipe.spools,
        (&plan, &planner),
        ("print", None),
        &|_| true,
    );
    let bodies = closed_bodies(job, BodyDepth::Soak, &|_| true)?.unwrap_or_default();
    let date = time::OffsetDateTime::now_utc().date().to_string();
    let model = job.threemf(&recipe.spools)?;
    let mut files: Vec<(String, Vec<u8>)> = vec![
        (
            "plan.json".into(),
            plan_json(job, &recipe.spools, &plan).into_bytes(),
        ),
        ("swaps.csv".into(), plan_csv(&plan).into_bytes()),
        ("parts.zip".into(), parts_zip(job, &bodies, &date)?),
    ];
    match printed {
        Ok(print) => {
            let compared = Compared {
                model: model.clone(),
                bodies: Some(&bodies).filter(|b| b.are_exact(job)),
            };
            let all = print.all(job, compared, None).into_iter();
            files.extend(all.map(|(n, bytes)| (format!("print/{n}"), bytes)));
        }
        Err(problem) => warn_of(&problem, false, is_json),
    }
    files.push(("model.3mf".into(), model));
    let write = || -> std::io::Result<()> {
        std::fs::create_dir_all(out.join("print"))?;
        // The mark that all of it is there goes first and comes back last: a worker may be killed at any time.
        let mark = out.join("done.json");
        if mark.exists() {
            std::fs::remove_file(&mark)?;
        }
        for (name, bytes) in &files {
            let half = out.join(format!("{name}.half"));
            std::fs::write(&half, bytes)?;
            std::fs::rename(&half, out.join(name))?;
        }
        let names: Vec<&str> = files.iter().map(|(name, _)| name.as_str()).collect();
        let line = serde_json::json!({
            "job": job.name, "time_s": plan.bill.time_s, "swaps": plan.bill.swaps, "model_g": plan.bill.model_g,
            "purge_g": plan.bill.purge_g, "tower_g": plan.bill.tower_g, "cost": plan.bill.cost, "warnings": plan.cautions.len(),
            "files": names,
        });
        std::fs::write(&mark, format!("{line}\n"))
    };
    write().map_err(|e| unwritable(out, &e))?;
    warn(&plan.cautions, is_json);
    for told in &bodies.told {
        warn_of(told, false, is_json);
    }
    print(&plan.bill, is_json, || {
        let b = &plan.bill;
        if job.printer.profile().jets {
            // Its time and its grams are the machine's own to say.
            return format!(
                "{}: nothing is swapped or purged, in {}",
                job.name,
                out.display()
            );
        }
        format!(
            "{}: {}, {:.0} min, {:.2} g model, {:.2} g purged, {:.2} g tower, in {}",
            job.name,
            counted(b.swaps, "swap"),
            b.time_s / 60.0,
            b.model_g,
            b.purge_g,
            b.tower_g,
            out.display()
        )
    });
    match plan.cautions.first() {
        Some(first) if is_strict => Err(Problem::new(
            "warned",
            match plan.cautions.len() {
                1 => "The plan has one warning".to_string(),
                n => format!("The plan has {n} warnings"),
            },
            first.code,
            "Mend what it warns of, or run it without --strict.",
        )),
        _ => Ok(()),
    }
}

/// One line a caution on standard error.
fn warn(cautions: &[Caution], is_json: bool) {
    for c in cautions {
        let told = Problem::new(c.code, &c.message, &c.place, &c.mend);
        warn_of(&told, c.is_wrong, is_json);
    }
}

/// One line on standard error.
fn warn_of(told: &Problem, is_wrong: bool, is_json: bool) {
    let Problem {
        code,
        message,
        place,
        mend,
        ..
    } = told;
    if is_json {
        out::warn(serde_json::json!({
            "warning": code, "is_wrong": is_wrong, "message": message, "where": place.as_deref().unwrap_or(""), "mend": mend,
        }));
    } else {
        let word = if is_wrong { "wrong" } else { "look at it" };
        out::warn(format_args!("{word}: {message}. {mend} [{code}]"));
    }
}

/// Stands in for a printer until stopped.
pub(crate) fn stand_in(
    port: u16,
    printer: Option<&Path>,
    mood: &str,
    key: Option<String>,
) -> Result<(), Problem> {
    let mood = serde_json::from_value(mood.into()).map_err(|_| {
        Problem::new(
            "mood-unknown",
            format!("There is no mood called {mood}"),
            "--mood",
            "Use right, wrong, empty, silent or nonsense.",
        )
    })?;
    let report = match printer {
        Some(file) => PrinterReport::from_json(&read(file)?).map_err(|p| in_file(file, p))?,
        None => varichrom_demo::printer_report(),
    };
    let trouble = |message: String| {
        Problem::new(
            "cannot-serve",
            message,
            "--port",
            "Change the option and start again.",
        )
    };
    let runtime = tokio::runtime::Runtime::new().map_err(|e| trouble(e.to_string()))?;
    runtime
        .block_on(varichrom_server::serve_stand_in(port, report, mood, key))
        .map_err(trouble)
}
