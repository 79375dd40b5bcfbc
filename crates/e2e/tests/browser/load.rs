//! Load by the real pointer and keyboard: joined, joined anew, exchanged, confirmed; a wrong spool caught and mended.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, rack, stl};
use varichrom_e2e::{
    App, BenchJob, Browser, Desk, StandIn, choose_from, chord, click, drag, type_into, wait_for,
    wait_for_text,
};

const CONTROL: char = '\u{e009}';
const ENTER: char = '\u{e007}';
const RIGHT: char = '\u{e014}';
const ESCAPE: char = '\u{e00c}';
const CHECKS: &str = "[aria-label='Checks']";

/// A block of two colours on an application with the demo's rack; chalk in the first slot, the lid in a proposed one.
async fn block(app: &App) -> Result<BenchJob<'_>> {
    let spools = rack().into_iter().map(|s| json!({ "spool": s }));
    app.add("rack", spools.collect()).await?;
    let bytes = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", bytes).await?;
    job.add("lid", "#c7452f").await?;
    let model = job.get("").await?["models"][0]["name"].take();
    let top = json!({ "model": model, "point": [20.0, 15.0, 20.0], "normal": [0.0, 0.0, 1.0] });
    job.edit(json!({ "edit": "give-patch", "region": "lid", "at": top, "crease_deg": 30 }))
        .await?;
    job.edit(json!({ "edit": "load-slot", "slot": 1, "spool": "chalk" }))
        .await?;
    Ok(job)
}

async fn open(client: &Client, app: &App, job: &BenchJob<'_>) -> Result<()> {
    client
        .goto(&format!("{}/jobs/{}/load", app.url, job.id))
        .await?;
    wait_for(client, "[aria-label='Patch bay']", |t| t.contains("Slot 1")).await?;
    Ok(())
}

/// The middle of the card whose name begins so.
async fn card(client: &Client, name: &str) -> Result<(f64, f64)> {
    let css = format!("[data-end][aria-label^='{name}']");
    let element = client.wait().for_element(Locator::Css(&css)).await?;
    let (x, y, width, height) = element.rectangle().await?;
    Ok((x + 0.5 * width, y + 0.5 * height))
}

async fn focus(client: &Client, name: &str) -> Result<()> {
    let css = format!("[data-end][aria-label^='{name}']");
    let element = client.wait().for_element(Locator::Css(&css)).await?;
    client
        .execute(
            "arguments[0].focus()",
            vec![serde_json::to_value(&element)?],
        )
        .await?;
    Ok(())
}

fn slot_of(job: &Value, region: &str) -> Option<u64> {
    let regions = job["regions"].as_array()?;
    regions.iter().find(|r| r["key"] == region)?["slot"].as_u64()
}

fn spool_in(job: &Value, slot: usize) -> &Value {
    &job["slots"][slot - 1]["spool"]["id"]
}

#[tokio::test(flavor = "multi_thread")]
async fn regions_slots_and_spools_are_joined_by_pointer_and_by_keyboard() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    // What was proposed is confirmed in one click.
    wait_for_text(client, CHECKS, "not yet confirmed").await?;
    click(client, "//button[@aria-label='Confirm the slot of lid']").await?;
    job.when("the confirmation", |j| {
        j["regions"][1]["is_proposed"] == false
    })
    .await?;
    // By drag, from a region to a slot, and from a spool back to the slot.
    drag(
        client,
        card(client, "Region lid").await?,
        card(client, "Slot 3").await?,
    )
    .await?;
    job.when("slot 3", |j| slot_of(j, "lid") == Some(3)).await?;
    drag(
        client,
        card(client, "Spool Ink-blue").await?,
        card(client, "Slot 3").await?,
    )
    .await?;
    job.when("ink-blue", |j| spool_in(j, 3) == "ink-blue")
        .await?;
    // From the region straight to a spool: it goes into the region's own slot.
    drag(
        client,
        card(client, "Region lid").await?,
        card(client, "Spool Soot").await?,
    )
    .await?;
    job.when("soot", |j| {
        spool_in(j, 3) == "soot" && slot_of(j, "lid") == Some(3)
    })
    .await?;
    // By one click and another: the slot, then another spool.
    let (x, y) = card(client, "Slot 3").await?;
    varichrom_e2e::press(client, x, y).await?;
    wait_for_text(
        client,
        "[aria-label='Patch bay'] [role='status']",
        "Slot 3 is in hand",
    )
    .await?;
    let (x, y) = card(client, "Spool Rust-red").await?;
    varichrom_e2e::press(client, x, y).await?;
    job.when("rust-red", |j| spool_in(j, 3) == "rust-red")
        .await?;
    // By keyboard: a figure gives the slot; or taken up, over to the slots, and joined.
    focus(client, "Region lid").await?;
    chord(client, &['2']).await?;
    job.when("slot 2", |j| slot_of(j, "lid") == Some(2)).await?;
    chord(client, &[ENTER]).await?;
    chord(client, &[RIGHT]).await?;
    let at = client.active_element().await?.attr("aria-label").await?;
    let at = at.context("a card with the focus")?;
    ensure!(at.starts_with("Slot"), "{at}");
    chord(client, &[ESCAPE]).await?;
    focus(client, "Region lid").await?;
    chord(client, &[ENTER]).await?;
    focus(client, "Slot 4").await?;
    chord(client, &[ENTER]).await?;
    job.when("slot 4", |j| slot_of(j, "lid") == Some(4)).await?;
    // Two slots change places in one click; undo brings them back.
    click(client, "//button[@aria-label='Slot 3 and 4 change places']").await?;
    job.when("the exchange", |j| {
        slot_of(j, "lid") == Some(3) && spool_in(j, 4) == "rust-red"
    })
    .await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.when("undo", |j| {
        slot_of(j, "lid") == Some(4) && spool_in(j, 3) == "rust-red"
    })
    .await?;
    // The same by keyboard, and back.
    for (lid, slot) in [(3, 4), (4, 3)] {
        let button = "//button[@aria-label='Slot 3 and 4 change places']";
        let button = client.find(Locator::XPath(button)).await?;
        client
            .execute("arguments[0].focus()", vec![serde_json::to_value(&button)?])
            .await?;
        chord(client, &[ENTER]).await?;
        job.when("the exchange by keyboard", |j| {
            slot_of(j, "lid") == Some(lid) && spool_in(j, slot) == "rust-red"
        })
        .await?;
    }
    // A region straight to a spool that is loaded somewhere.
    drag(
        client,
        card(client, "Region lid").await?,
        card(client, "Spool Rust-red").await?,
    )
    .await?;
    // Of the two slots that hold it, the first.
    job.when("the slot of rust-red", |j| slot_of(j, "lid") == Some(2))
        .await?;
    wait_for_text(client, CHECKS, "you need two of it").await?;
    // Everything from one slot, in two clicks.
    click(client, "//button[contains(., 'All from one slot')]").await?;
    click(
        client,
        "//*[@role='menuitem'][starts-with(., 'Everything from slot 1')]",
    )
    .await?;
    job.when("all from slot 1", |j| {
        slot_of(j, "lid") == Some(1) && slot_of(j, "base") == Some(1)
    })
    .await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_wrong_spool_is_caught_at_the_printer_and_mended() -> Result<()> {
    let data = tempfile::tempdir()?;
    let app = App::start("serve", data.path())?;
    let printer = StandIn::start("wrong")?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    let job = block(&app).await?;
    let mut settings = job.get("").await?["printer"].take();
    settings["address"] = json!(printer.url);
    job.edit(json!({ "edit": "set-printer", "printer": settings }))
        .await?;
    job.edit(json!({ "edit": "load-slot", "slot": 2, "spool": "rust-red" }))
        .await?;
    open(client, &app, &job).await?;
    click(client, "//button[.='Ask the printer']").await?;
    wait_for_text(
        client,
        CHECKS,
        "Slot 1 holds Rust-red PLA; the job wants Chalk PLA",
    )
    .await?;
    click(client, "(//button[.='Use what is loaded'])[1]").await?;
    job.when("the exchange", |j| {
        spool_in(j, 1) == "rust-red"
            && slot_of(j, "lid") == Some(1)
            && slot_of(j, "base") == Some(2)
    })
    .await?;
    wait_for(client, CHECKS, |t| !t.contains("; the job wants")).await?;
    // A printer that falls silent is told, and nothing hangs.
    printer.set_mood("nonsense").await?;
    click(client, "//button[.='Ask the printer']").await?;
    wait_for_text(client, CHECKS, "cannot be used").await?;
    printer.set_mood("right").await?;
    click(client, "//button[.='Ask again']").await?;
    wait_for(client, CHECKS, |t| !t.contains("cannot be used")).await?;
    drop(printer);
    click(client, "//button[.='Ask the printer']").await?;
    wait_for_text(client, CHECKS, "nobody is there").await?;
    browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn spools_are_added_and_a_mixing_nozzle_comes_nearest_to_a_colour() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    // A new spool, its usual values filled in by its plastic.
    click(
        client,
        "//button[contains(., 'Spool')][.//*[name()='svg']][not(@aria-label)]",
    )
    .await?;
    type_into(client, "Name of the spool", "Kelp PETG").await?;
    choose_from(client, "Material", "PETG").await?;
    click(client, "//button[.='Keep']").await?;
    card(client, "Spool Kelp PETG").await?;
    let url = format!("{}/api/rack", app.url);
    let rack: Value = reqwest::get(url).await?.json().await?;
    let kelp = rack["spools"]
        .as_array()
        .and_then(|s| s.last())
        .context("a spool")?;
    assert_eq!(
        (&kelp["density_g_cm3"], &kelp["nozzle_c"][0]),
        (&json!(1.27), &json!(225.0))
    );
    // One that is loaded cannot be thrown away: a sentence says why.
    click(client, "//button[@aria-label='Change Chalk PLA']").await?;
    click(client, "//button[.='Throw away']").await?;
    wait_for_text(client, "[role='alert']", "is loaded in the job").await?;
    click(client, "//button[.='Leave it']").await?;
    click(client, "//*[@role='alert']//button[@aria-label='Close']").await?;
    // A mixing nozzle with three feeds.
    choose_from(client, "Printer", "Mixing nozzle").await?;
    job.when("the nozzle", |j| j["printer"]["kind"]["is"] == "mixing")
        .await?;
    drag(
        client,
        card(client, "Spool Rust-red").await?,
        card(client, "Feed 2").await?,
    )
    .await?;
    drag(
        client,
        card(client, "Spool Soot").await?,
        card(client, "Feed 3").await?,
    )
    .await?;
    job.when("three feeds", |j| {
        j["places"][1]["spool"]["id"] == "rust-red" && j["places"][2]["spool"]["id"] == "soot"
    })
    .await?;
    click(client, "//*[@role='tab'][.='Mixtures']").await?;
    click(client, "(//button[.='Come nearest'])[2]").await?;
    // The lid wants the red of the second feed: most of it is that, and as little of the black as can be.
    job.when("a red mixture", |j| {
        let share = |n: usize| j["slots"][1]["shares"][n].as_f64().unwrap_or(0.0);
        share(1) > 0.5 && (share(2) - 0.02).abs() < 1e-9
    })
    .await?;
    // A share typed by hand: the others follow, the sum stays.
    type_into(client, "Share of feed 1 in mixture 2", "50").await?;
    let after = job
        .when("half of chalk", |j| {
            j["slots"][1]["shares"][0]
                .as_f64()
                .is_some_and(|s| (s - 0.5).abs() < 1e-6)
        })
        .await?;
    let sum: f64 = after["slots"][1]["shares"]
        .as_array()
        .context("shares")?
        .iter()
        .filter_map(Value::as_f64)
        .sum();
    assert!((sum - 1.0).abs() < 1e-9);
    desk.browser.client.clone().close().await?;
    Ok(())
}
