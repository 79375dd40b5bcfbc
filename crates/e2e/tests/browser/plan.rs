//! Plan by the real pointer and keyboard: a cut-off dragged, a way chosen, a snag mended, the score zoomed, selected and
//! compared, the bill opened.

use crate::plan_block::{BILL, bill, block, figure, number, open, tab};
use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use varichrom_e2e::{Desk, chord, click, drag, hover, press, type_into, wait_for};

const LEFT: char = '\u{e012}';
const END: char = '\u{e010}';
const SCORE: &str = "[aria-label='Layer of the swap score']";

/// The middle of an element.
async fn middle(client: &Client, css: &str) -> Result<(f64, f64)> {
    let element = client.wait().for_element(Locator::Css(css)).await?;
    let (x, y, width, height) = element.rectangle().await?;
    Ok((x + 0.5 * width, y + 0.5 * height))
}

#[tokio::test(flavor = "multi_thread")]
async fn a_cut_off_is_dragged_moved_by_keys_and_given_back() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Rinse").await?;
    let before = bill(&job).await?;
    // The worst pair: soot to chalk. Its cut-off goes to half of where it is.
    let handle = "[role='slider'][aria-label^='Cut-off from Soot black']";
    let now = client.wait().for_element(Locator::Css(handle)).await?;
    let volume = number(&now.attr("aria-valuenow").await?.context("a volume")?)?;
    let (x, y) = middle(client, handle).await?;
    let strip = now.find(Locator::XPath("..")).await?.rectangle().await?;
    drag(client, (x, y), (strip.0 + 0.5 * (x - strip.0), y)).await?;
    let changed = job
        .when("the cut-off", |j| {
            j["rules"]["cut_offs"]
                .as_array()
                .is_some_and(|c| c.len() == 1)
        })
        .await?;
    let cut = &changed["rules"]["cut_offs"][0];
    ensure!(
        (cut["from"].as_u64(), cut["to"].as_u64()) == (Some(3), Some(1)),
        "{cut}"
    );
    let set = cut["purge_mm3"].as_f64().context("a volume")?;
    ensure!(
        (set - 0.5 * volume).abs() < 0.05 * volume,
        "{set} of {volume}"
    );
    wait_for(client, "[aria-label='Rinse']", |t| t.contains("as rinsed")).await?;
    let after = bill(&job).await?;
    ensure!(
        after["purge_g"].as_f64() < before["purge_g"].as_f64(),
        "{after} {before}"
    );
    // Five mm³ less by key; then back to what the rinse asks for.
    let element = client.find(Locator::Css(handle)).await?;
    client
        .execute(
            "arguments[0].focus()",
            vec![serde_json::to_value(&element)?],
        )
        .await?;
    chord(client, &[LEFT]).await?;
    job.when("a key", |j| {
        j["rules"]["cut_offs"][0]["purge_mm3"]
            .as_f64()
            .is_some_and(|v| (v - set + 5.0).abs() < 0.6)
    })
    .await?;
    click(client, "//button[.='as rinsed']").await?;
    job.when("nothing set", |j| {
        j["rules"]["cut_offs"].as_array().is_some_and(Vec::is_empty)
    })
    .await?;
    // A larger difference for all purges less.
    type_into(client, "Difference that counts as clean", "5").await?;
    job.when("the tolerance", |j| j["printer"]["tolerance"] == 5.0)
        .await?;
    // What it cannot be stays as it was typed, says what it can be, and changes nothing.
    type_into(client, "Difference that counts as clean", "0").await?;
    let field = "[aria-label='Difference that counts as clean'][aria-invalid='true']";
    let field = client.wait().for_element(Locator::Css(field)).await?;
    let says = field.attr("title").await?.unwrap_or_default();
    ensure!(says == "It can be from 0.1 to 50", "{says}");
    ensure!(job.get("").await?["printer"]["tolerance"] == 5.0);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_way_is_chosen_and_comes_to_what_the_table_said() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Ways").await?;
    let row = "//tr[@aria-label='All into a bin']";
    let cells = "//tr[@aria-label='All into a bin']/td[3]";
    let element = client.wait().for_element(Locator::XPath(cells)).await?;
    let said = number(&element.text().await?)?;
    wait_for(client, "[aria-label='Ways to run this job']", |t| {
        !t.contains("Trying")
    })
    .await?;
    let before = number(&figure(client, "Wasted").await?)?;
    ensure!(said < before, "{said} {before}");
    click(client, row).await?;
    job.when("the bin", |j| j["rules"]["places"]["tower_share"] == 0.0)
        .await?;
    wait_for(client, BILL, |t| t.contains(&format!("{said:.1} g"))).await?;
    // Painted, as parts and in bands stand side by side, with how deep each goes.
    wait_for(
        client,
        "[aria-label='Painted, in parts or in bands']",
        |t| {
            ["As it is now 0.8 mm", "As parts: right through", "In bands"]
                .iter()
                .all(|w| t.contains(w))
                && t.matches("all of it").count() == 2
        },
    )
    .await?;
    // Sorted by waste the least is first: one colour wastes nothing.
    click(client, "//th/button[.='Wasted']").await?;
    wait_for(client, "[aria-label='Ways to run this job']", |t| {
        !t.contains("Trying") && !t.contains("being tried")
    })
    .await?;
    let first = "//table[@aria-label='All ways']//tbody/tr[1]";
    let first = client.find(Locator::XPath(first)).await?.text().await?;
    ensure!(first.contains("0.0 g"), "{first}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_snag_is_mended_and_the_bill_falls_by_what_was_promised() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Snags").await?;
    wait_for(client, "[aria-label='Snags']", |t| {
        t.contains("Line prints")
    })
    .await?;
    let snags = job.get("/plan/snags").await?;
    let snag = snags["snags"]
        .as_array()
        .context("a list")?
        .iter()
        .find(|s| s["sort"] == "trifle");
    let saves = snag.context("the line")?["saves"].clone();
    let before = bill(&job).await?;
    // Shown on the score first.
    let line = "//section[@aria-label='Snags']//li[contains(., 'Line prints')]";
    click(client, &format!("{line}//button[.='Show']")).await?;
    client
        .wait()
        .for_element(Locator::Css("rect[stroke-dasharray]"))
        .await?;
    click(
        client,
        &format!("{line}//button[starts-with(., 'Give it to')]"),
    )
    .await?;
    wait_for(client, "[aria-label='Snags']", |t| {
        !t.contains("Line prints")
    })
    .await?;
    let after = bill(&job).await?;
    let swaps = |b: &Value| b["swaps"].as_i64().unwrap_or_default();
    ensure!(
        swaps(&before) - swaps(&after) == saves["swaps"].as_i64().unwrap_or(-1),
        "{after}"
    );
    let shown = figure(client, "Swaps").await?;
    ensure!(shown.starts_with(&swaps(&after).to_string()), "{shown}");
    // What was promised is what the mark says.
    wait_for(client, BILL, |t| {
        t.contains(&format!("−{}", saves["swaps"]))
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_score_zooms_selects_compares_and_opens_as_a_table_and_the_bill_opens() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    let (_, y) = middle(client, SCORE).await?;
    // Heights from 0 to 12 mm lie between 172 and 1256 px. The line's swaps are at 4 mm.
    let x = |mm: f64| 172.0 + mm / 12.0 * (1256.0 - 172.0);
    hover(client, x(4.0), y).await?;
    let tip = wait_for(client, "[role='tooltip']", |t| t.contains("for Line")).await?;
    ensure!(tip.contains("mm³") && tip.contains("tower"), "{tip}");
    let foot = 44.0 + 231.0 - 28.0;
    drag(client, (x(3.0), foot), (x(6.0), foot)).await?;
    wait_for(client, "[aria-label='Layers selected']", |t| {
        t.contains("Layers 1") && t.contains("swaps")
    })
    .await?;
    click(client, "//button[@aria-label='Look closer (+)']").await?;
    click(client, "//button[.='All']").await?;
    // Kept, changed, compared.
    click(
        client,
        "//button[@aria-label='Keep this state and compare with it']",
    )
    .await?;
    job.edit(json!({ "edit": "load", "do": "all", "slot": 1 }))
        .await?;
    wait_for(client, "[aria-label='Swap score']", |t| t.contains("Kept:")).await?;
    click(client, "//button[@aria-label='Put the kept state away']").await?;
    click(client, "//button[.='Undo']").await?;
    wait_for(client, BILL, |t| !t.contains("\n0\n")).await?;
    click(client, "//button[@aria-label='The score as a table']").await?;
    wait_for(client, "[role='dialog']", |t| {
        t.contains("Layer 21") && t.contains("Soot black")
    })
    .await?;
    click(client, "//*[@role='dialog']//button[.='Close']").await?;
    tab(client, "Bill").await?;
    let purged = "//section[@aria-label='The bill opened']//button[starts-with(., 'Purged')]";
    click(client, purged).await?;
    let opened = wait_for(client, "[aria-label='The bill opened']", |t| {
        t.contains("→")
    })
    .await?;
    ensure!(opened.contains("Soot black"), "{opened}");
    // By keyboard to the last layer.
    press(client, x(1.0), y).await?;
    chord(client, &[END]).await?;
    wait_for(client, "[aria-label='Layer']", |t| t.contains("Layer 60")).await?;
    Ok(())
}
