//! What makes a start easy: words that explain themselves, one next step at a time, and numbers as makers type them.

use anyhow::{Result, ensure};
use fantoccini::Locator;
use serde_json::json;
use varichrom_demo::{box_mesh, stl};
use varichrom_e2e::{BenchJob, Desk, chord, click, type_into, wait_for};

const NEXT: &str = "[aria-label='Next step']";

#[tokio::test(flavor = "multi_thread")]
async fn words_explain_themselves_and_numbers_take_sums() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    job.open(client).await?;
    click(client, "//button[@aria-label='Soak depth: what is that?']").await?;
    wait_for(client, "[role='dialog']", |t| t.contains("shines through")).await?;
    const ESCAPE: char = '\u{e00c}';
    chord(client, &[ESCAPE]).await?;
    let soak = "Soak depth of Plain";
    for (typed, mm) in [("2*0.2+0.04", 0.44), ("1/2", 0.5), ("(1,5 - 0,3) / 2", 0.6)] {
        type_into(client, soak, typed).await?;
        job.when(typed, |j| {
            let is = j["regions"][0]["depth"]["mm"].as_f64();
            is.is_some_and(|is| (is - mm).abs() < 1e-9)
        })
        .await?;
    }
    // What cannot be read stays where it was typed, and changes nothing.
    type_into(client, soak, "half").await?;
    let field = Locator::Css("input[aria-label='Soak depth of Plain'][aria-invalid='true']");
    let field = client.wait().for_element(field).await?;
    ensure!(field.prop("value").await?.as_deref() == Some("half"));
    field.send_keys("\u{e00c}").await?;
    ensure!(field.prop("value").await?.as_deref() == Some("0.60"));
    // Units where a length is meant; arrows step the last digit.
    type_into(client, "Edge moves by", "1/16in").await?;
    let edge = Locator::Css("input[aria-label='Edge moves by']");
    let edge = client.wait().for_element(edge).await?;
    ensure!(edge.prop("value").await?.as_deref() == Some("1.59"));
    edge.send_keys("\u{e013}\u{e013}").await?;
    ensure!(edge.prop("value").await?.as_deref() == Some("1.61"));
    // All words on one page.
    click(client, "//button[@aria-label='Soak depth: what is that?']").await?;
    click(client, "//*[@role='dialog']//a[.='All words']").await?;
    wait_for(client, "main", |t| {
        t.contains("Melt zone") && t.contains("Tanks in series") && t.contains("Stray")
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_next_step_leads_through_the_first_job_and_can_be_put_away() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    job.open(client).await?;
    wait_for(client, NEXT, |t| t.contains("second region")).await?;
    job.add("lid", "#c02020").await?;
    wait_for(client, NEXT, |t| t.contains("give it faces")).await?;
    let model = job.get("").await?["models"][0]["name"].clone();
    let at = json!({ "model": model, "point": [20.0, 10.0, 20.0], "normal": [0.0, 0.0, 1.0] });
    job.edit(json!({ "edit": "give-patch", "region": "lid", "at": at, "crease_deg": 30 }))
        .await?;
    // Nothing is loaded on a fresh desk.
    wait_for(client, NEXT, |t| t.contains("spools into the slots")).await?;
    click(client, "//*[@aria-label='Next step']//a").await?;
    wait_for(client, "nav [aria-current='page']", |t| t.contains("Load")).await?;
    click(client, "//button[@aria-label='Show no next steps']").await?;
    client.refresh().await?;
    client
        .wait()
        .for_element(Locator::Css("nav [aria-current='page']"))
        .await?;
    ensure!(client.find_all(Locator::Css(NEXT)).await?.is_empty());
    Ok(())
}
