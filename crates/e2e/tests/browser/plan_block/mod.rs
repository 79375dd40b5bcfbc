//! A job for the browser tests of Plan, and what is asked of its screen.

use anyhow::{Context, Result};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, printers, rack, stl};
use varichrom_e2e::{App, BenchJob, click, wait_for};

pub(crate) const BILL: &str = "[aria-label='The bill']";

/// A block with a red lid and a black line that is next to nothing, on an application with the demo's rack and printers.
pub(crate) async fn block(app: &App) -> Result<BenchJob<'_>> {
    let spools = rack().into_iter().map(|s| json!({ "spool": s }));
    app.add("rack", spools.collect()).await?;
    let own: Vec<Value> = printers()
        .into_iter()
        .map(|(id, printer)| json!({ "id": id, "printer": printer }))
        .collect();
    app.add("printers", own).await?;
    let bytes = stl(&box_mesh([0.0; 3], [40.0, 30.0, 12.0]), "block");
    let job = BenchJob::of(app, "block.stl", bytes).await?;
    for (slot, spool) in [(1, "chalk"), (2, "rust-red"), (3, "soot")] {
        job.edit(json!({ "edit": "load-slot", "slot": slot, "spool": spool }))
            .await?;
    }
    job.edit(json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#c7452f", "slot": 2 })).await?;
    job.edit(json!({ "edit": "add-region", "region": "line", "name": "Line", "colour": "#171718", "slot": 3 })).await?;
    let model = job.get("").await?["models"][0]["name"].take();
    let top = json!({ "model": model, "point": [20.0, 15.0, 12.0], "normal": [0.0, 0.0, 1.0] });
    job.edit(json!({ "edit": "give-patch", "region": "lid", "at": top, "crease_deg": 30 }))
        .await?;
    job.edit(json!({ "edit": "give-band", "region": "line", "low_mm": 4.0, "high_mm": 4.2 }))
        .await?;
    Ok(job)
}

pub(crate) async fn open(client: &Client, app: &App, job: &BenchJob<'_>) -> Result<()> {
    client
        .goto(&format!("{}/jobs/{}/plan", app.url, job.id))
        .await?;
    wait_for(client, BILL, |t| t.contains("Wasted")).await?;
    Ok(())
}

/// The job's Handover, as it opens.
pub(crate) async fn handover(client: &Client, app: &App, job: &BenchJob<'_>) -> Result<()> {
    client
        .goto(&format!("{}/jobs/{}/handover", app.url, job.id))
        .await?;
    Ok(())
}

pub(crate) async fn tab(client: &Client, name: &str) -> Result<()> {
    click(
        client,
        &format!("//*[@role='tab'][starts-with(., '{name}')]"),
    )
    .await
}

/// The figure of a name in the bill's line, as it is written.
pub(crate) async fn figure(client: &Client, name: &str) -> Result<String> {
    let xpath = format!("//*[@aria-label='The bill']//dt[starts-with(., '{name}')]/../dd");
    let element = client.wait().for_element(Locator::XPath(&xpath)).await?;
    Ok(element.text().await?)
}

pub(crate) fn number(text: &str) -> Result<f64> {
    let digits: String = text
        .chars()
        .take_while(|c| c.is_ascii_digit() || *c == '.')
        .collect();
    digits
        .parse()
        .with_context(|| format!("no number in {text}"))
}

pub(crate) async fn bill(job: &BenchJob<'_>) -> Result<Value> {
    Ok(job.plan().await?["bill"].clone())
}
