//! What goes to the printer, by the real pointer and keyboard: beads are scrubbed, a setting is changed and file and bill follow,
//! passes go out.

use crate::plan_block::{BILL, block, figure, open};
use crate::whole_line::downloaded;
use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::json;
use std::io::Read;
use varichrom_core::gcode::{Told, read};
use varichrom_e2e::{Desk, click, type_into, wait_for};

const BEADS: &str = "[role='group'][aria-label='Beads']";

/// A number that the pane of beads carries.
async fn told(client: &Client, what: &str) -> Result<usize> {
    let pane = client.wait().for_element(Locator::Css(BEADS)).await?;
    let value = pane.attr(what).await?.context("it is told")?;
    Ok(value.parse()?)
}

/// Waits until the pane tells a number that is wanted.
async fn told_when(
    client: &Client,
    what: &str,
    is_wanted: impl Fn(usize) -> bool,
) -> Result<usize> {
    for _ in 0..400 {
        let value = told(client, what).await?;
        if is_wanted(value) {
            return Ok(value);
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    anyhow::bail!("{what} stays at {}", told(client, what).await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn beads_are_scrubbed_and_a_setting_changes_file_and_bill() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    ensure!(figure(client, "Time, estimated").await?.contains("min"));
    click(client, "//button[.='Beads']").await?;
    let all = told_when(client, "data-moves", |n| n > 20).await?;
    ensure!(
        told(client, "data-shown").await? == all,
        "all is shown at first"
    );
    wait_for(client, BILL, |t| t.contains("from the moves")).await?;
    // By keys on the pane: a move back, twenty back, and played to the end.
    let pane = client.find(Locator::Css(BEADS)).await?;
    pane.send_keys("\u{e012}").await?;
    told_when(client, "data-shown", |n| n == all - 1).await?;
    let thumb = client
        .find(Locator::Css("[role='slider'][aria-label='Beads laid']"))
        .await?;
    thumb.send_keys("\u{e011}").await?;
    told_when(client, "data-shown", |n| n <= 1).await?;
    wait_for(client, BEADS, |t| t.contains("bead ")).await?;
    click(client, "//button[@aria-label='Play the layer']").await?;
    told_when(client, "data-shown", |n| n > 3).await?;
    // Every way to colour them says what it means.
    click(client, "//*[@aria-label='Beads by']//button[.='kind']").await?;
    wait_for(client, "[aria-label='Kinds of beads']", |t| {
        t.contains("outer wall") && t.contains("skin")
    })
    .await?;
    click(client, "//*[@aria-label='Beads by']//button[.='spool']").await?;
    // Half the layer height: twice the layers, the bill and the file follow.
    let before = job.plan().await?["layers"]
        .as_array()
        .context("layers")?
        .len();
    click(client, "//button[.='How it prints']").await?;
    let drawer = "[aria-label='How it prints']";
    wait_for(client, drawer, |t| t.contains("Layers and lines")).await?;
    let search = client
        .find(Locator::Css("input[aria-label='Search settings']"))
        .await?;
    search.send_keys("layer height").await?;
    wait_for(client, drawer, |t| !t.contains("Priming line")).await?;
    type_into(client, "Layer height", "0.1").await?;
    wait_for(client, drawer, |t| t.contains("0.20 mm")).await?;
    let layers = job.plan().await?["layers"]
        .as_array()
        .context("layers")?
        .len();
    ensure!(layers == 2 * before - 1, "{layers} layers, {before} before");
    client
        .goto(&format!("{}/jobs/{}/handover", app.url, job.id))
        .await?;
    click(client, "//a[@aria-label='Download Print file (G-code)']").await?;
    let text = String::from_utf8(downloaded(&desk.browser.downloads(), "-feeder.gcode").await?)?;
    ensure!(
        text.matches("; layer ").count() == layers,
        "layers of the file"
    );
    let lines = read(&text)?;
    let tools = lines
        .iter()
        .filter(|l| matches!(l.told, Told::Select(_)))
        .count();
    let swaps = job.plan().await?["swaps"]
        .as_array()
        .context("swaps")?
        .len();
    ensure!(tools == swaps + 1, "{tools} words for {swaps} swaps");
    wait_for(client, "[aria-label='From the moves']", |t| {
        t.contains("Laying down")
    })
    .await?;
    // Back to the ready set with one click.
    click(client, "//button[.='How it prints']").await?;
    click(
        client,
        "//button[@aria-label='Layer height: back to 0.20 mm']",
    )
    .await?;
    job.when("the layer height", |j| j["printer"]["layer_mm"] == 0.2)
        .await?;
    // What was set last is offered for this printer and plastic.
    wait_for(client, drawer, |t| {
        t.contains("Quick") && t.contains("Fine")
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn passes_go_out_as_numbered_files() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    // The upper half in one colour right through, and nothing in a third.
    job.edit(json!({ "edit": "give-band", "region": "lid", "low_mm": 4.0, "high_mm": 12.0, "depth": "through" }))
        .await?;
    let mut printer = job.get("").await?["printer"].take();
    printer["kind"] = json!({ "is": "by-hand", "how": "pass-per-colour" });
    job.edit(json!({ "edit": "set-printer", "printer": printer }))
        .await?;
    client
        .goto(&format!("{}/jobs/{}/handover", app.url, job.id))
        .await?;
    let rows = "[aria-label='For the machine']";
    wait_for(client, rows, |t| {
        t.contains("pass of slot 1") && t.contains("pass of slot 2")
    })
    .await?;
    click(client, "//a[@aria-label='Download Print files, all (ZIP)']").await?;
    let bytes = downloaded(&desk.browser.downloads(), "print.zip").await?;
    let mut files = zip::ZipArchive::new(std::io::Cursor::new(bytes))?;
    let mut names = Vec::new();
    for index in 0..files.len() {
        names.push(files.by_index(index)?.name()?.into_owned());
    }
    ensure!(
        names.iter().filter(|n| n.ends_with(".gcode")).count() == 2,
        "{names:?}"
    );
    let second = names
        .iter()
        .find(|n| n.ends_with("-2-slot-2.gcode"))
        .context("numbered")?;
    let mut text = String::new();
    files.by_name(second)?.read_to_string(&mut text)?;
    ensure!(
        text.contains("G28 X Y") && !text.contains("G28\n"),
        "no homing over the print"
    );
    Ok(())
}
