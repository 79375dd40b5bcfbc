//! What is meant so: parts held by teeth, a stray that is left on purpose.

use anyhow::{Context, Result, ensure};
use fantoccini::Locator;
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, stl};
use varichrom_e2e::{BenchJob, Desk, chord, click, type_into, wait_for};

const CONTROL: char = '\u{e009}';

fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block")
}

/// A place on top of the block.
async fn top(job: &BenchJob<'_>) -> Result<Value> {
    let model = job.get("").await?["models"][0]["name"].clone();
    Ok(json!({ "model": model, "point": [20.0, 15.0, 20.0], "normal": [0.0, 0.0, 1.0] }))
}

fn volumes(view: &Value) -> Vec<f64> {
    let parts = view["models"][0]["parts"].as_array();
    let all = parts.into_iter().flatten();
    let mut volumes: Vec<f64> = all.filter_map(|p| p["volume_mm3"].as_f64()).collect();
    volumes.sort_by(f64::total_cmp);
    volumes
}

#[tokio::test(flavor = "multi_thread")]
async fn parts_that_touch_are_held_by_teeth() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    let plane = json!({ "by": "height", "mm": 5.0 });
    job.edit(json!({ "edit": "part", "do": "cut", "at": top(&job).await?, "plane": plane }))
        .await?;
    job.open(client).await?;
    click(client, "//*[@role='tab'][.='Overlaps']").await?;
    wait_for(client, "[aria-label='Overlaps']", |t| t.contains("200 mm²")).await?;
    click(client, "//button[.='Interlock']").await?;
    // A size that fits nowhere is refused in words, and nothing changes.
    type_into(client, "Size of teeth", "30").await?;
    click(client, "//button[.='Make teeth']").await?;
    wait_for(client, "[role='alert']", |t| {
        t.contains("no room for a tooth of 30 mm")
    })
    .await?;
    click(client, "//button[@aria-label='Close']").await?;
    click(client, "//button[.='Interlock']").await?;
    type_into(client, "Size of teeth", "3").await?;
    click(client, "//button[.='Make teeth']").await?;
    let held = job
        .when("teeth", |j| volumes(j).first().is_some_and(|v| *v > 6000.5))
        .await?;
    let volumes_held = volumes(&held);
    ensure!((volumes_held.iter().sum::<f64>() - 24000.0).abs() < 0.1);
    let last = job.last_edit().await?;
    ensure!(
        last["do"] == "interlock" && last["dovetail"] == true,
        "{last}"
    );
    chord(client, &[CONTROL, 'z']).await?;
    job.when("no teeth", |j| {
        volumes(j).first().is_some_and(|v| (v - 6000.0).abs() < 0.1)
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_stray_is_left_on_purpose_with_a_note_and_taken_up_again() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("eye", "#171718").await?;
    let model = top(&job).await?["model"].clone();
    let dab = |x: f64| {
        json!({ "edit": "give-stroke", "region": "eye", "reach": "dab", "stroke": {
            "model": model, "path": [[x, 15.0, 20.0]], "radius_mm": 0.8, "eye": [20.0, 15.0, 200.0] } })
    };
    job.edit(dab(10.0)).await?;
    job.edit(dab(30.0)).await?;
    job.open(client).await?;
    click(client, "//*[@role='tab'][.='Strays']").await?;
    const LIST: &str = "[aria-label='Strays']";
    wait_for(client, LIST, |t| t.contains("Give all 2 to their")).await?;
    click(client, "(//button[.='Leave it'])[1]").await?;
    let note = client
        .wait()
        .for_element(Locator::Css("[aria-label='Why it is left as it is']"))
        .await?;
    note.send_keys("an eye\u{e007}").await?;
    wait_for(client, LIST, |t| {
        t.contains("Left on purpose: an eye") && t.contains("Give it to its neighbour")
    })
    .await?;
    click(client, "//button[.='Give it to its neighbour']").await?;
    wait_for(client, LIST, |t| t.contains("left on purpose")).await?;
    let area = job.area("eye").await?;
    ensure!((area - 2.0).abs() < 0.1, "one eye is left: {area} mm²");
    click(client, "//button[.='Take it up again']").await?;
    wait_for(client, LIST, |t| t.contains("Give it to its neighbour")).await?;
    let kept = job.get("").await?["rules"]["accepted"].clone();
    ensure!(kept.as_object().context("notes")?.is_empty(), "{kept}");
    Ok(())
}
