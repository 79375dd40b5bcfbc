//! Print files from elsewhere, by the real pointer and keyboard: a four-tool file turned into a strand, passes joined, a file set against
//! the plan of its job.

use crate::plan_block::{block, handover};
use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use std::fmt::Write;
use std::path::{Path, PathBuf};
use varichrom_e2e::{Desk, choose_from, click, wait_for};

const FILE: &str = "[aria-label='The file']";
const FILES: &str = "[aria-label='Print files from elsewhere']";
const SCORE: &str = "[aria-label=\"Layer of the file's score\"]";

/// Walls side by side, one for each tool, as another program might have sliced them.
fn four_tools(layers: usize) -> String {
    let mut text = String::from("; by nobody\nM109 S205\nG28\nG90\nM83\n");
    for layer in 0..layers {
        let z = 0.2 * (layer + 1) as f64;
        for turn in 0..4 {
            let tool = if layer % 2 == 0 { turn } else { 3 - turn };
            let y = 60 + 20 * tool;
            let _ = write!(
                text,
                "T{tool}\nG0 X40 Y{y} Z{z:.1} F6000\nG1 X100 E12 F1800\nG0 Y{}\nG1 X40 E12\n",
                y + 1
            );
        }
    }
    text
}

/// One wall, at a place.
fn wall(y: u32) -> String {
    let mut text = String::from("M109 S205\nG28\nG90\nM83\nG0 Z10 F600\n");
    let _ = writeln!(text, "G0 X40 Y{y} F6000");
    for layer in 1..=5 {
        let (z, x) = (
            0.2 * f64::from(layer),
            if layer % 2 == 1 { 100 } else { 40 },
        );
        let _ = write!(text, "G0 Z{z:.1} F600\nG1 X{x} E2 F1800\n");
    }
    text + "G0 Z20 F600\n"
}

fn written(folder: &Path, name: &str, text: &str) -> Result<PathBuf> {
    let path = folder.join(name);
    std::fs::write(&path, text)?;
    Ok(path)
}

async fn choose(client: &Client, label: &str, files: &[PathBuf]) -> Result<()> {
    let css = format!("input[aria-label='{label}']");
    let input = client.wait().for_element(Locator::Css(&css)).await?;
    let names: Vec<_> = files.iter().map(|f| f.to_string_lossy()).collect();
    Ok(input.send_keys(&names.join("\n")).await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_four_tool_file_becomes_a_strand_with_its_splice_list() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    client.goto(&app.url).await?;
    let text = four_tools(6);
    let file = written(desk.data.path(), "four-walls.gcode", &text)?;
    choose(client, "Model file", &[file]).await?;
    wait_for(client, FILE, |t| {
        t.contains("four-walls.gcode") && t.contains("6 layers") && t.contains("18 changes")
    })
    .await?;
    // The keys go through its layers, and another slot stands for a tool.
    let score = client.wait().for_element(Locator::Css(SCORE)).await?;
    score.send_keys("\u{e014}\u{e014}").await?;
    wait_for(client, "[aria-label='Beads of the file']", |t| {
        t.contains("Layer 3")
    })
    .await?;
    choose_from(client, "Slot for tool 3", "1 ").await?;
    wait_for(client, FILE, |t| !t.contains("slot 4")).await?;
    choose_from(client, "Slot for tool 3", "4 ").await?;
    wait_for(client, FILE, |t| t.contains("slot 4")).await?;
    // For a printer that joins a strand its tools are wrong, until they are lengths of it.
    let url = client.current_url().await?.path().to_string();
    let job: u32 = url.split('/').nth(2).context("a job")?.parse()?;
    let http = reqwest::Client::new();
    let at = format!("{}/api/jobs/{job}", app.url);
    let view: Value = http.get(&at).send().await?.json().await?;
    let mut printer = view["printer"].clone();
    printer["kind"] = json!({ "is": "splicer" });
    let edit = json!({ "edit": "set-printer", "printer": printer });
    let edits = format!("{at}/edits");
    http.post(&edits)
        .json(&edit)
        .send()
        .await?
        .error_for_status()?;
    wait_for(client, FILE, |t| t.contains("this printer gets one strand")).await?;
    click(client, "//button[.='Rewrite']").await?;
    click(client, "//button[.='Open what was made']").await?;
    wait_for(client, FILE, |t| {
        t.contains("four-walls-rewritten.gcode") && t.contains("19 lengths of strand")
    })
    .await?;
    wait_for(client, FILE, |t| t.contains("nothing wrong")).await?;
    let link = client
        .find(Locator::XPath("//a[.='Save the strand']"))
        .await?;
    let path = link.attr("href").await?.context("a link")?;
    let list: Value = http
        .get(format!("{}{path}", app.url))
        .send()
        .await?
        .json()
        .await?;
    let splices = list["splices"].as_array().context("lengths")?;
    let sum: f64 = splices.iter().filter_map(|s| s["mm"].as_f64()).sum();
    // 6 layers of 4 walls of twice 12 mm of filament.
    ensure!((sum - 576.0).abs() < 1e-3, "{sum}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn passes_are_joined_and_refused_where_the_nozzle_would_meet_them() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    handover(client, app, &job).await?;
    let folder = desk.data.path();
    let files = [
        written(folder, "front.gcode", &wall(60))?,
        written(folder, "back.gcode", &wall(120))?,
        written(folder, "again.gcode", &wall(60))?,
    ];
    choose(client, "Print file", &files).await?;
    wait_for(client, FILES, |t| t.contains("again.gcode")).await?;
    for name in ["front", "again"] {
        click(client, &format!("//input[@aria-label='Join {name}.gcode']")).await?;
    }
    click(client, "//button[.='Join 2 passes']").await?;
    wait_for(client, "[role='alert']", |t| {
        t.contains("The nozzle would go")
    })
    .await?;
    click(client, "//input[@aria-label='Join again.gcode']").await?;
    click(client, "//input[@aria-label='Join back.gcode']").await?;
    choose_from(client, "Slot of pass 2", "3 ").await?;
    click(client, "//button[.='Join 2 passes']").await?;
    let said = wait_for(client, FILE, |t| t.contains("front-joined.gcode")).await?;
    ensure!(
        said.contains("5 layers") && said.contains("1 change"),
        "{said}"
    );
    ensure!(said.contains("front.gcode, back.gcode"), "{said}");
    // It is forgotten, and the others stay.
    click(client, "//button[.='Forget it']").await?;
    wait_for(client, FILES, |t| {
        t.contains("back.gcode") && !t.contains("joined")
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_is_set_against_the_plan_of_its_job() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    handover(client, app, &job).await?;
    wait_for(client, "[aria-label='For the machine']", |t| {
        t.contains("move")
    })
    .await?;
    let own = format!("{}/api/jobs/{}/files/print.gcode", app.url, job.id);
    let own = reqwest::get(&own).await?.error_for_status()?.text().await?;
    let file = written(desk.data.path(), "own.gcode", &own)?;
    choose(client, "Print file", &[file]).await?;
    wait_for(client, FILE, |t| {
        t.contains("Layers, colours and their order are the plan's") && t.contains("nothing wrong")
    })
    .await?;
    // A change of the plan is seen here: it is another plan now.
    job.edit(json!({ "edit": "set-soak", "region": "lid", "soak_mm": 2.4 }))
        .await?;
    wait_for(client, FILE, |t| {
        !t.contains("are the plan's") && t.contains("On ")
    })
    .await?;
    // It is rehearsed as it is, whatever is planned by now.
    click(client, "//button[.='Rehearse it']").await?;
    client
        .wait()
        .for_element(Locator::XPath("//h2[contains(., 'own.gcode')]"))
        .await?;
    choose_from(client, "Pace", "at once").await?;
    wait_for(client, "[aria-label='Verdict']", |t| {
        t.contains("prints as it should") || t.contains("does not print")
    })
    .await?;
    click(client, "//button[.='Back to the file']").await?;
    wait_for(client, FILE, |t| t.contains("Looked over")).await?;
    Ok(())
}
