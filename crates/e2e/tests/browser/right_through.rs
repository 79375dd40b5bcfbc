//! Colours right through by the real pointer and keyboard: a change at a layer on the score, a band, and as deep as pays.

use anyhow::{Context, Result};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, stl};
use varichrom_e2e::{BenchJob, Desk, choose, chord, click, drag, tool, type_into, wait_for};

const PAGE_UP: char = '\u{e00e}';
const LEFT: char = '\u{e012}';
const DELETE: char = '\u{e017}';
const CONTROL: char = '\u{e009}';

async fn swaps_when(job: &BenchJob<'_>, wanted: u64) -> Result<()> {
    for _ in 0..100 {
        let plan = job.plan().await?;
        if plan["bill"]["swaps"].as_u64() == Some(wanted) {
            return Ok(());
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    anyhow::bail!("never {wanted} swaps: {}", job.plan().await?["bill"])
}

fn from_mm(view: &Value) -> Option<f64> {
    view["changes"][0]["from_mm"].as_f64()
}

async fn focus(client: &Client, css: &str) -> Result<()> {
    let element = client.find(Locator::Css(css)).await?;
    let focus = "arguments[0].focus()";
    client
        .execute(focus, vec![serde_json::to_value(element)?])
        .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_at_a_layer_is_set_dragged_moved_by_keys_and_taken_out() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    job.open(client).await?;
    focus(client, "svg[role='slider']").await?;
    for _ in 0..3 {
        chord(client, &[PAGE_UP]).await?;
    }
    click(
        client,
        "//*[@aria-label='From this layer on, another slot']",
    )
    .await?;
    click(client, "//*[@role='option'][contains(., '2')]").await?;
    let set = job.when("a change", |v| from_mm(v).is_some()).await?;
    assert!((from_mm(&set).context("set")? - 6.0).abs() < 1e-6, "{set}");
    swaps_when(&job, 1).await?;

    let line = "g[aria-label^='Change:']";
    wait_for(client, line, |_| true).await?;
    let (x, y, wide, tall) = client.find(Locator::Css(line)).await?.rectangle().await?;
    let at = (x + 0.5 * wide, y + 0.5 * tall);
    drag(client, at, (at.0 + 200.0, at.1)).await?;
    let dragged = job
        .when("dragged", |v| from_mm(v).is_some_and(|z| z > 7.0))
        .await?;
    let dragged = from_mm(&dragged).context("dragged")?;
    swaps_when(&job, 1).await?;
    // One edit moved it: undo puts it back.
    chord(client, &[CONTROL, 'z']).await?;
    job.when("back", |v| {
        from_mm(v).is_some_and(|z| (z - 6.0).abs() < 1e-6)
    })
    .await?;
    click(client, "//button[.='Redo']").await?;
    job.when("again", |v| {
        from_mm(v).is_some_and(|z| (z - dragged).abs() < 1e-6)
    })
    .await?;

    wait_for(client, line, |_| true).await?;
    focus(client, line).await?;
    chord(client, &[LEFT]).await?;
    let lower = dragged - 0.2;
    job.when("a layer lower", |v| {
        from_mm(v).is_some_and(|z| (z - lower).abs() < 1e-6)
    })
    .await?;
    focus(client, line).await?;
    chord(client, &[DELETE]).await?;
    job.when("out", |v| from_mm(v).is_none()).await?;
    swaps_when(&job, 0).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_band_goes_right_through_and_skins_go_as_deep_as_pays() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    job.add("red", "#c7452f").await?;
    job.open(client).await?;
    choose(client, "red").await?;
    tool(client, "Band").await?;
    type_into(client, "Lower height", "4").await?;
    type_into(client, "Upper height", "9").await?;
    click(client, "//*[@aria-label='How far bands go in']").await?;
    click(client, "//*[@role='option'][contains(., 'right through')]").await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    job.area_when("red", |a| (a - 700.0).abs() < 1e-6).await?;
    assert_eq!(job.last_edit().await?["depth"], "through");
    swaps_when(&job, 2).await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", |a| a < 1e-9).await?;
    swaps_when(&job, 0).await?;

    // As a skin every layer of it prints two colours; the first thing that is said is that it need not.
    let skin = json!({ "edit": "give-band", "region": "red", "low_mm": 4.0, "high_mm": 9.0 });
    job.edit(skin).await?;
    let shown = "[aria-label='Snags'] li";
    let first = wait_for(client, shown, |t| t.contains("as deep as pays")).await?;
    assert!(first.contains("looks the same"), "{first}");
    click(
        client,
        "//*[@aria-label='Snags']//li[1]//button[contains(., 'as deep as pays')]",
    )
    .await?;
    swaps_when(&job, 2).await?;
    job.area_when("red", |a| (a - 700.0).abs() < 1e-6).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}
