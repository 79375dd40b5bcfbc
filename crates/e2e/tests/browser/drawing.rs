//! From a drawing or a picture to files, by the real pointer and keyboard, and changed afterwards.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::Value;
use std::path::Path;
use std::time::Duration;
use varichrom_e2e::{App, Desk, choose_from, chord, click, drag, type_into, wait_for};

const TOGETHER: &str = "[aria-label='What it comes to']";
const CONTROL: char = '\u{e009}';

/// A badge with a line that is too thin.
const BADGE: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
    <rect id="Ground" width="40" height="30" fill="#203550"/><circle id="Disc" cx="20" cy="15" r="9" fill="#c8442f"/>
    <rect id="Line" x="4" y="26" width="32" height="0.3" fill="#eee7d6"/></svg>"##;

async fn drop_file(client: &Client, label: &str, path: &Path) -> Result<()> {
    let css = format!("input[aria-label='{label}']");
    let input = client.wait().for_element(Locator::Css(&css)).await?;
    Ok(input.send_keys(&path.to_string_lossy()).await?)
}

/// The job that is open, once it is as wanted.
async fn job_when(app: &App, client: &Client, is_wanted: impl Fn(&Value) -> bool) -> Result<Value> {
    let mut last = Value::Null;
    for _ in 0..200 {
        let url = client.current_url().await?;
        let id = url.path().split('/').nth(2).unwrap_or_default().to_string();
        if url.path().ends_with("/intake") {
            let answer = reqwest::get(format!("{}/api/jobs/{id}", app.url)).await?;
            last = answer.json().await?;
            if is_wanted(&last) {
                return Ok(last);
            }
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("the job never came to be as wanted: {last}")
}

fn volumes(job: &Value) -> Vec<f64> {
    let parts = job["models"][0]["parts"]
        .as_array()
        .cloned()
        .unwrap_or_default();
    parts
        .iter()
        .filter_map(|p| p["volume_mm3"].as_f64())
        .collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_drawing_becomes_bodies_and_files_and_is_changed_afterwards() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let path = desk.data.path().join("badge.svg");
    std::fs::write(&path, BADGE)?;
    client.goto(&app.url).await?;
    drop_file(client, "Model file", &path).await?;
    wait_for(client, TOGETHER, |t| t.contains("3 bodies")).await?;
    // What is too thin is said, and mended by a click; Control Z takes it back, and the button does it again.
    wait_for(client, TOGETHER, |t| t.contains("1 place is thinner")).await?;
    click(client, "//button[.='Thicken to 0.45 mm']").await?;
    wait_for(client, TOGETHER, |t| t.contains("Nothing is thinner")).await?;
    chord(client, &[CONTROL, 'z']).await?;
    wait_for(client, TOGETHER, |t| t.contains("1 place is thinner")).await?;
    click(client, "//button[.='Redo']").await?;
    wait_for(client, TOGETHER, |t| t.contains("Nothing is thinner")).await?;
    type_into(client, "Thickness of all colours", "0.6").await?;
    wait_for(client, TOGETHER, |t| t.contains("0.60 mm high")).await?;
    click(client, "//label[contains(., 'Base plate')]").await?;
    wait_for(client, TOGETHER, |t| t.contains("1.20 mm high")).await?;
    click(client, "//label[contains(., 'Eyelet')]").await?;
    wait_for(client, TOGETHER, |t| t.contains("4 bodies")).await?;
    // The eyelet is dragged, and follows.
    let eyelet = client
        .find(Locator::Css("[aria-label='Move the eyelet']"))
        .await?;
    let (x, y, w, h) = eyelet.rectangle().await?;
    drag(
        client,
        (x + w / 2.0, y + h / 2.0),
        (x + w / 2.0 + 60.0, y + h / 2.0),
    )
    .await?;
    click(client, "//button[@role='radio'][contains(., 'Bed side')]").await?;
    click(client, "//button[.='Make the bodies']").await?;
    let job = job_when(app, client, |j| {
        j["models"][0]["parts"]
            .as_array()
            .is_some_and(|p| p.len() >= 4)
    })
    .await?;
    ensure!(job["models"][0]["is_drawn"] == true);
    let all: f64 = volumes(&job).iter().sum();
    ensure!(all > 40.0 * 30.0 * 1.2 - 60.0, "{all}");
    let colours: Vec<&str> = job["regions"]
        .as_array()
        .context("regions")?
        .iter()
        .filter_map(|r| r["colour"].as_str())
        .collect();
    for colour in ["#203550", "#c8442f", "#eee7d6"] {
        ensure!(colours.contains(&colour), "{colours:?}");
    }
    // To a file.
    let id = job["id"].as_i64().context("a number")?;
    let file = reqwest::get(format!("{}/api/jobs/{id}/files/model.3mf", app.url)).await?;
    ensure!(file.status().is_success(), "{}", file.status());
    // And changed: the disc is cut through, once and for all.
    click(client, "//button[.='Change the drawing']").await?;
    wait_for(client, TOGETHER, |t| t.contains("1.20 mm high")).await?;
    choose_from(client, "What becomes of Disc", "a hole").await?;
    click(client, "//button[.='Make the bodies']").await?;
    let disc = std::f64::consts::PI * 81.0 * 1.2;
    let changed = job_when(app, client, |j| {
        volumes(j).iter().sum::<f64>() < all - 0.95 * disc
    })
    .await?;
    let now: f64 = volumes(&changed).iter().sum();
    ensure!((all - now - disc).abs() < 0.05 * disc, "{all} {now}");
    // Another drawing in its place keeps what was said: a plate below, its face on the bed.
    let other = desk.data.path().join("other.svg");
    std::fs::write(
        &other,
        BADGE.replace(
            "width=\"40mm\" height=\"30mm\"",
            "width=\"20mm\" height=\"15mm\"",
        ),
    )?;
    drop_file(client, "New version", &other).await?;
    wait_for(client, TOGETHER, |t| t.contains("1.20 mm high")).await?;
    let size = client
        .find(Locator::Css("[aria-label='Height of the drawing']"))
        .await?
        .text()
        .await?;
    ensure!(size.contains("15.0"), "{size}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_picture_is_reduced_traced_and_made_a_job() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    client.goto(&app.url).await?;
    // What the browser shows is a picture like any other.
    let path = desk.data.path().join("shelf.png");
    std::fs::write(&path, client.screenshot().await?)?;
    drop_file(client, "Model file", &path).await?;
    wait_for(client, TOGETHER, |t| t.contains("bodies ·")).await?;
    type_into(client, "Colours", "2").await?;
    wait_for(client, TOGETHER, |t| t.contains("2 bodies")).await?;
    // One right after the other, while the first is still being read: none undoes the other.
    type_into(client, "Specks under", "4").await?;
    type_into(client, "Width of the drawing", "60").await?;
    type_into(client, "Smooth", "0.2").await?;
    wait_for(client, "[aria-label='The drawing']", |t| {
        t.contains("60.0 mm")
    })
    .await?;
    click(client, "//button[.='Make the bodies']").await?;
    let job = job_when(app, client, |j| {
        j["models"][0]["size_mm"][0]
            .as_f64()
            .is_some_and(|x| (x - 60.0).abs() < 0.1)
    })
    .await?;
    ensure!(job["models"][0]["closed"] == true);
    // What is no drawing says so, and the page of one that is gone leads back.
    client.goto(&format!("{}/drawings/4000", app.url)).await?;
    wait_for(client, "[role='alert']", |t| {
        t.contains("Drop the drawing once more")
    })
    .await?;
    click(client, "//button[.='Back']").await?;
    wait_for(client, "main h1", |t| t == "Shelf").await?;
    Ok(())
}
