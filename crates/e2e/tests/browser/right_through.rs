//! Colours right through by the real pointer and keyboard: a change at a layer on the score, a band, and as deep as pays.

use anyhow::{Context, Result};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, stl};
use varichrom_e2e::{
    BenchJob, Desk, choose, choose_from, chord, click, hold, let_go, tool, type_into, wait_for,
};

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
    choose_from(client, "From this layer on, another slot", "2").await?;
    let set = job.when("a change", |v| from_mm(v).is_some()).await?;
    assert!((from_mm(&set).context("set")? - 6.0).abs() < 1e-6, "{set}");
    swaps_when(&job, 1).await?;

    let line = "g[aria-label^='Change:']";
    wait_for(client, line, |_| true).await?;
    let (x, y, wide, tall) = client.find(Locator::Css(line)).await?.rectangle().await?;
    let at = (x + 0.5 * wide, y + 0.5 * tall);
    // While it is held, what the job would come to stands beside it.
    hold(client, at, (at.0 + 200.0, at.1)).await?;
    wait_for(client, "g[aria-label^='Change:'] [role='status']", |t| {
        t.contains("1 swap")
    })
    .await?;
    let_go(client).await?;
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
    choose_from(client, "How far bands go in", "right through").await?;
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

async fn plan_tab(client: &Client, url: &str, job: &BenchJob<'_>, tab: &str) -> Result<()> {
    client.goto(&format!("{url}/jobs/{}/plan", job.id)).await?;
    let tab = format!("//*[@role='tab'][contains(., '{tab}')]");
    client
        .wait()
        .for_element(Locator::XPath(&tab))
        .await?
        .click()
        .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_pose_is_applied_and_a_snag_is_left_on_purpose() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    // A slab on edge with one side in red: every layer has both, lying down next to none.
    let slab = stl(&box_mesh([0.0; 3], [3.0, 40.0, 30.0]), "slab");
    let job = BenchJob::of(app, "slab.stl", slab).await?;
    job.add("red", "#c7452f").await?;
    let name = job.get("").await?["models"][0]["name"].clone();
    let at = json!({ "model": name, "point": [3.0, 20.0, 15.0], "normal": [1.0, 0.0, 0.0] });
    job.edit(json!({ "edit": "give-patch", "region": "red", "at": at, "crease_deg": 30.0 }))
        .await?;
    plan_tab(client, &app.url, &job, "Ways").await?;
    let row = "//tr[contains(@aria-label, 'side down')]";
    client.wait().for_element(Locator::XPath(row)).await?;
    wait_for(client, "[aria-label='Ways to run this job']", |t| {
        !t.contains("Trying")
    })
    .await?;
    click(client, row).await?;
    job.when("lying down", |v| {
        v["size_mm"][2]
            .as_f64()
            .is_some_and(|z| (z - 3.0).abs() < 1e-6)
    })
    .await?;

    let skin = json!({ "edit": "give-band", "region": "red", "low_mm": 0.6, "high_mm": 1.6 });
    job.edit(skin).await?;
    plan_tab(client, &app.url, &job, "Snags").await?;
    wait_for(client, "[aria-label='Snags']", |t| {
        t.contains("Leave it") && !t.contains("Trying")
    })
    .await?;
    click(
        client,
        "//*[@aria-label='Snags']//li[1]//button[.='Leave it']",
    )
    .await?;
    type_into(client, "Why it is left as it is", "meant so").await?;
    job.when("left", |v| {
        v["rules"]["accepted"]
            .as_object()
            .is_some_and(|a| a.len() == 1)
    })
    .await?;
    wait_for(client, "[aria-label='Snags']", |t| {
        t.contains("Left on purpose: meant so")
    })
    .await?;
    click(client, "//button[.='Take it up again']").await?;
    job.when("taken up", |v| {
        v["rules"]["accepted"]
            .as_object()
            .is_some_and(|a| a.is_empty())
    })
    .await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}
