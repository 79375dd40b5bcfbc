//! Drawings, pictures, words, eyes and tones laid on a model by the real pointer and keyboard, and changed afterwards.

use anyhow::{Context, Result, ensure};
use fantoccini::Locator;
use serde_json::Value;
use std::f64::consts::PI;
use varichrom_demo::{box_mesh, stl, subdivided_sphere};
use varichrom_e2e::{
    BenchJob, Desk, MIDDLE, choose, choose_from, chord, click, drag, look_from, press, tool,
    type_into, wait_for,
};

const CONTROL: char = '\u{e009}';
/// The middle of the bench beside the panel.
const BESIDE: (f64, f64) = (MIDDLE.0 + 127.0, MIDDLE.1);

const PANEL: &str = "[aria-label='What is laid']";

/// A blue disc on a pale square, 10 mm wide.
const BADGE: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10">
    <rect id="Ground" width="10" height="10" fill="#eee7d6"/><circle id="Disc" cx="5" cy="5" r="3" fill="#203550"/></svg>"##;

fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block")
}

/// The region that a drawing made, by its name.
fn region(job: &Value, name: &str) -> Option<String> {
    let regions = job["regions"].as_array()?;
    let found = regions.iter().find(|r| r["name"] == name)?;
    found["key"].as_str().map(String::from)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_picture_is_laid_moved_sized_and_taken_in_hand_again() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    let path = desk.data.path().join("badge.svg");
    std::fs::write(&path, BADGE)?;
    job.open(client).await?;
    look_from(client, "above").await?;
    tool(client, "Lay").await?;
    let input = Locator::Css("input[aria-label='Drawing or picture file']");
    let input = client.wait().for_element(input).await?;
    input.send_keys(&path.to_string_lossy()).await?;
    wait_for(client, PANEL, |t| t.contains("Disc")).await?;
    press(client, BESIDE.0, BESIDE.1).await?;
    let laid = job.when("a disc", |j| region(j, "Disc").is_some()).await?;
    let (disc, ground) = (
        region(&laid, "Disc").context("a disc")?,
        region(&laid, "Ground").context("a ground")?,
    );
    let close = |wanted: f64| move |area: f64| (area - wanted).abs() < 0.01 * wanted;
    job.area_when(&disc, close(9.0 * PI)).await?;
    job.area_when(&ground, close(100.0 - 9.0 * PI)).await?;
    let step = laid["step"].clone();

    // Another width, and dragged: still the same step.
    type_into(client, "Width of the drawing", "20").await?;
    job.area_when(&disc, close(36.0 * PI)).await?;
    let at = |edit: &Value| -> Option<f64> {
        let laid = edit["edits"].as_array()?.last()?;
        laid["laying"]["at"][0].as_f64()
    };
    let before = at(&job.last_edit().await?).context("a place")?;
    drag(client, BESIDE, (BESIDE.0 + 60.0, BESIDE.1)).await?;
    let mut now = before;
    for _ in 0..100 {
        now = at(&job.last_edit().await?).context("a place")?;
        if now > before + 1.0 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(60)).await;
    }
    ensure!(now > before + 1.0, "it stays at {now}");
    ensure!(job.get("").await?["step"] == step, "more than one step");

    // One of its colours goes to nobody; then it is let go, and taken in hand again from the list of steps.
    choose_from(client, "Who gets Ground", "leave as it is").await?;
    job.area_when(&ground, |a| a == 0.0).await.ok();
    click(client, "//*[@aria-label='What is laid']//button[.='Done']").await?;
    click(client, "//button[@role='tab'][.='Steps']").await?;
    let again = format!("//button[@aria-label='Change what step {step} lays']");
    click(client, &again).await?;
    wait_for(client, PANEL, |t| t.contains("badge.svg")).await?;
    type_into(client, "Width of the drawing", "10").await?;
    let laid = job.when("a disc", |j| region(j, "Disc").is_some()).await?;
    let disc = region(&laid, "Disc").context("a disc")?;
    job.area_when(&disc, close(9.0 * PI)).await?;
    ensure!(job.get("").await?["step"] == step, "more than one step");

    // Control Z takes all of it back.
    click(client, "//*[@aria-label='What is laid']//button[.='Done']").await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.when("nothing laid", |j| region(j, "Disc").is_none())
        .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn words_and_an_eye_are_laid_and_changed() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.open(client).await?;
    look_from(client, "above").await?;
    tool(client, "Lay").await?;
    click(client, "//*[@aria-label='Kind']//button[.='Words']").await?;
    let field = Locator::Css("textarea[aria-label='Words']");
    let field = client.wait().for_element(field).await?;
    // Put on the model at once: what was typed last is not lost.
    field.send_keys("Quay").await?;
    press(client, BESIDE.0, BESIDE.1).await?;
    let laid = job.when("words", |j| region(j, "Quay").is_some()).await?;
    let key = region(&laid, "Quay").context("words")?;
    let large = job.area_when(&key, |a| a > 20.0).await?;
    type_into(client, "Height of capitals", "4").await?;
    job.area_when(&key, |a| (a - 0.25 * large).abs() < 0.02 * large)
        .await?;
    choose_from(client, "Font", "Stencil").await?;
    job.when("another font", |_| true).await?;
    click(client, "//label[contains(., 'By letter')]").await?;
    job.when("letters", |j| {
        ["Q", "u", "a", "y"].iter().all(|l| region(j, l).is_some())
    })
    .await?;

    // As a relief they are plastic; back to colour they are none.
    let volume = |j: &Value| j["models"][0]["volume_mm3"].as_f64().unwrap_or(0.0);
    choose_from(client, "What it becomes", "raised").await?;
    job.when("raised letters", |j| volume(j) > 24_000.5).await?;
    choose_from(client, "What it becomes", "sunken").await?;
    job.when("sunken letters", |j| volume(j) < 23_999.5).await?;
    choose_from(client, "What it becomes", "colour on the surface").await?;
    job.when("flush letters", |j| (volume(j) - 24_000.0).abs() < 1e-6)
        .await?;

    // An eye on the front, and its like on the other side.
    click(client, "//*[@aria-label='What is laid']//button[.='Done']").await?;
    look_from(client, "the front").await?;
    tool(client, "Lay").await?;
    click(client, "//*[@aria-label='Kind']//button[.='Eye']").await?;
    press(client, BESIDE.0 - 60.0, BESIDE.1).await?;
    let laid = job.when("an eye", |j| region(j, "Pupil").is_some()).await?;
    let pupil = region(&laid, "Pupil").context("a pupil")?;
    // Of 4 mm height, 40 % of it.
    let disc = 0.25 * PI * 1.6f64.powi(2);
    job.area_when(&pupil, |a| (a - disc).abs() < 0.01 * disc)
        .await?;
    click(
        client,
        "//*[@aria-label='What is laid']//button[.='Other side']",
    )
    .await?;
    job.when("two eyes", |j| {
        let regions = j["regions"]
            .as_array()
            .map(Vec::as_slice)
            .unwrap_or_default();
        regions.iter().filter(|r| r["name"] == "Pupil").count() == 2
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tone_is_given_and_the_slider_changes_it_where_it_is() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let ball = stl(&subdivided_sphere(15.0, 4), "ball");
    let job = BenchJob::of(app, "ball.stl", ball).await?;
    job.add("light", "#f0e0a0").await?;
    job.open(client).await?;
    choose(client, "light").await?;
    tool(client, "Tone").await?;
    choose_from(client, "What is taken", "What looks up").await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    let whole = 4.0 * PI * 225.0;
    let share = |wanted: f64| move |a: f64| (a / whole - wanted).abs() < 0.02;
    job.area_when("light", share(0.4)).await?;
    let step = job.get("").await?["step"].clone();
    let slider = Locator::Css("input[aria-label='How much of it']");
    let slider = client.wait().for_element(slider).await?;
    // Ten hundredths more, by the keyboard.
    for _ in 0..10 {
        slider.send_keys("\u{e014}").await?;
    }
    job.area_when("light", share(0.5)).await?;
    ensure!(job.get("").await?["step"] == step, "more than one step");
    choose_from(client, "What is taken", "Speckles").await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    job.area_when("light", |a| a / whole > 0.52).await?;
    Ok(())
}
