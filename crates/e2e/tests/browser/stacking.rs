//! A picture stacked of two spools, a model with its picture beside it, and a machine that prints any colour.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use std::path::Path;
use std::time::Duration;
use varichrom_demo::{box_mesh, dusk, rack, stl};
use varichrom_e2e::{App, BenchJob, Desk, choose_from, click, type_into, wait_for};

const OUTCOME: &str = "[aria-label='What it comes to']";

async fn drop_files(client: &Client, paths: &[&Path]) -> Result<()> {
    let css = "input[aria-label='Model file']";
    let input = client.wait().for_element(Locator::Css(css)).await?;
    let names: Vec<String> = paths.iter().map(|p| p.to_string_lossy().into()).collect();
    Ok(input.send_keys(&names.join("\n")).await?)
}

/// The newest job, once there is one that is as wanted.
async fn newest(app: &App, is_wanted: impl Fn(&Value) -> bool) -> Result<Value> {
    for _ in 0..300 {
        let jobs: Value = reqwest::get(format!("{}/api/jobs", app.url))
            .await?
            .json()
            .await?;
        let id = jobs
            .as_array()
            .and_then(|j| j.iter().filter_map(|j| j["id"].as_i64()).max());
        if let Some(id) = id {
            let job = reqwest::get(format!("{}/api/jobs/{id}", app.url)).await?;
            let job: Value = job.json().await?;
            if is_wanted(&job) {
                return Ok(job);
            }
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("no job came to be as wanted")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_picture_is_stacked_of_two_spools_and_its_wedge_is_made() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let spools: Vec<Value> = (rack().iter())
        .filter(|s| ["chalk", "slate", "soot"].contains(&s.id.as_str()))
        .map(|s| json!({ "spool": s }))
        .collect();
    app.add("rack", spools).await?;
    let path = desk.data.path().join("bay.png");
    std::fs::write(&path, dusk())?;
    client.goto(&app.url).await?;
    drop_files(client, &[&path]).await?;
    click(
        client,
        "//*[@aria-label='What it becomes']//button[.='Shades, stacked']",
    )
    .await?;
    wait_for(client, OUTCOME, |t| t.contains("1 swap")).await?;
    let difference = |text: &str| -> Option<f64> {
        let words: Vec<&str> = text.split_whitespace().collect();
        let at = words.iter().position(|w| *w == "difference")?;
        words.get(at + 1)?.parse().ok()
    };
    let two = difference(&wait_for(client, OUTCOME, |t| t.contains("difference")).await?);
    // A third spool in between comes nearer.
    click(
        client,
        "//*[@aria-label='Spools it is stacked of']//label[contains(., 'Slate')]",
    )
    .await?;
    let three = difference(&wait_for(client, OUTCOME, |t| t.contains("2 swaps")).await?);
    let (two, three) = (two.context("a figure")?, three.context("a figure")?);
    ensure!(three <= two, "{three} with three spools and {two} with two");
    type_into(client, "Every other layer", "0.1").await?;
    click(client, "//button[.='Make the stack']").await?;
    let job = newest(app, |j| {
        j["regions"].as_array().is_some_and(|r| r.len() == 3)
    })
    .await?;
    let parts = job["models"][0]["parts"].as_array().context("parts")?;
    ensure!(parts.len() > 4, "only {} bodies", parts.len());
    ensure!(parts.iter().all(|p| p["closed"] == true), "an open body");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn an_obj_with_its_picture_is_dropped_and_has_its_colours() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let folder = desk.data.path();
    let obj = "mtllib bay.mtl\nv 0 0 0\nv 30 0 0\nv 30 20 0\nv 0 20 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl bay\nf 1/1 2/2 3/3 4/4\n";
    std::fs::write(folder.join("bay.obj"), obj)?;
    std::fs::write(folder.join("bay.mtl"), "newmtl bay\nmap_Kd bay.png\n")?;
    std::fs::write(folder.join("bay.png"), dusk())?;
    client.goto(&app.url).await?;
    let paths = ["bay.obj", "bay.mtl", "bay.png"].map(|n| folder.join(n));
    drop_files(client, &paths.each_ref().map(|p| p.as_path())).await?;
    let job = newest(app, |j| {
        j["regions"].as_array().is_some_and(|r| r.len() > 2)
    })
    .await?;
    let shares: f64 = (job["regions"].as_array().into_iter().flatten())
        .filter_map(|r| r["surface_share"].as_f64())
        .sum();
    ensure!((shares - 1.0).abs() < 1e-6, "{shares}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_jetting_machine_takes_colours_and_materials_instead_of_slots() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [10.0, 10.0, 5.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    client
        .goto(&format!("{}/jobs/{}/load", app.url, job.id))
        .await?;
    choose_from(client, "Printer", "Jetting machine, any colour").await?;
    wait_for(
        client,
        "[aria-label='Parts and what they are made of']",
        |t| t.contains("Block"),
    )
    .await?;
    choose_from(client, "What Block is made of", "Soft, Shore A 50").await?;
    type_into(client, "How much Block hides", "40").await?;
    type_into(client, "Colour of Plain", "#123456").await?;
    let now = job
        .when("soft, clear and blue", |j| {
            let part = &j["models"][0]["parts"][0];
            part["made_of"] == "Soft"
                && part["opacity"] == 0.4
                && j["regions"][0]["colour"] == "#123456"
        })
        .await?;
    ensure!(now["machine"]["jets"] == true);
    let plan = job.plan().await?;
    ensure!(plan["bill"]["swaps"] == 0, "{}", plan["bill"]);
    // A print file is refused in plain words; the model is there.
    client
        .goto(&format!("{}/jobs/{}/handover", app.url, job.id))
        .await?;
    wait_for(client, "[aria-label='For programs and people']", |t| {
        t.contains("Coloured model")
    })
    .await?;
    Ok(())
}
