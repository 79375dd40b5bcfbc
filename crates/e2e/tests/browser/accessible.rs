//! Every stage, tab and dialog looked over by axe-core, which knows the rules of WCAG: nothing may be found.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use std::path::Path;
use std::time::Duration;
use varichrom_demo::{box_mesh, stl};
use varichrom_e2e::{BenchJob, Desk, chord, click};

/// What axe-core finds in the page, or in an element of it.
async fn found(client: &Client, within: Option<&str>) -> Result<Value> {
    let axe =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/node_modules/axe-core/axe.min.js");
    let axe = std::fs::read_to_string(&axe).context("axe-core: run `npm install` in web")?;
    let script = format!(
        "{axe}; const [within] = arguments; window.axeFound = null; \
         axe.run(within ? document.querySelector(within) : document, {{ resultTypes: ['violations'] }}).then( \
         r => window.axeFound = r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 200)).join(' ; ')), \
         e => window.axeFound = [String(e)]);"
    );
    client.execute(&script, vec![json!(within)]).await?;
    for _ in 0..300 {
        let found = client.execute("return window.axeFound", Vec::new()).await?;
        if !found.is_null() {
            return Ok(found);
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("axe-core does not end")
}

async fn nothing_in(client: &Client, what: &str, within: Option<&str>) -> Result<()> {
    let found = found(client, within).await?;
    ensure!(found == json!([]), "{what}: {found:#}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn no_stage_tab_or_dialog_breaks_a_rule() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    // The checker itself finds what is wrong.
    client.goto("data:text/html,<img src=x><input>").await?;
    ensure!(
        found(client, None).await? != json!([]),
        "axe-core finds nothing anywhere"
    );
    client.goto(&app.url).await?;
    client.wait().for_element(Locator::Css("main h1")).await?;
    nothing_in(client, "the empty shelf", None).await?;
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    job.add("lid", "#c02020").await?;
    let model = job.get("").await?["models"][0]["name"].clone();
    let at = json!({ "model": model, "point": [20.0, 10.0, 20.0], "normal": [0.0, 0.0, 1.0] });
    job.edit(json!({ "edit": "give-patch", "region": "lid", "at": at, "crease_deg": 30 }))
        .await?;
    job.open(client).await?;
    let id = client
        .current_url()
        .await?
        .path()
        .split('/')
        .nth(2)
        .context("a job")?
        .to_string();
    for stage in ["intake", "colour", "load", "plan", "handover", "rehearsal"] {
        client
            .goto(&format!("{}/jobs/{id}/{stage}", app.url))
            .await?;
        client.wait().for_element(Locator::Css("main")).await?;
        tokio::time::sleep(Duration::from_secs(2)).await;
        nothing_in(client, stage, None).await?;
        let tabs = client
            .find_all(Locator::Css("main [role='tab']"))
            .await?
            .len();
        for n in 1..=tabs {
            click(client, &format!("(//main//*[@role='tab'])[{n}]")).await?;
            tokio::time::sleep(Duration::from_millis(700)).await;
            nothing_in(client, &format!("tab {n} of {stage}"), None).await?;
        }
    }
    // What lies over the page hides it, and is looked at by itself.
    let over = [
        (
            "load",
            "//button[normalize-space(.)='Spool']",
            "[role='dialog']",
        ),
        (
            "plan",
            "//button[contains(@aria-label, 'table')]",
            "[role='dialog']",
        ),
        ("colour", "//button[@aria-label='View']", "[role='menu']"),
        (
            "colour",
            "//button[@aria-label='More for lid']",
            "[role='menu']",
        ),
        ("colour", "//*[@role='combobox']", "[role='listbox']"),
    ];
    for (stage, opens, what) in over {
        client
            .goto(&format!("{}/jobs/{id}/{stage}", app.url))
            .await?;
        click(client, opens).await?;
        client.wait().for_element(Locator::Css(what)).await?;
        nothing_in(client, opens, Some(what)).await?;
    }
    client
        .goto(&format!("{}/jobs/{id}/colour", app.url))
        .await?;
    client.wait().for_element(Locator::Css("main")).await?;
    const CONTROL: char = '\u{e009}';
    chord(client, &[CONTROL, 'k']).await?;
    client
        .wait()
        .for_element(Locator::Css("[role='dialog'] input"))
        .await?;
    nothing_in(client, "the palette", Some("[role='dialog']")).await?;
    client.goto(&app.url).await?;
    client
        .wait()
        .for_element(Locator::XPath("//main//a[contains(., 'Block')]"))
        .await?;
    nothing_in(client, "the shelf", None).await?;
    click(client, "//input[@aria-label='Choose Block']").await?;
    nothing_in(client, "a job that is chosen", None).await?;
    click(client, "//*[@aria-label='Where to look']//button[.='Bin']").await?;
    nothing_in(client, "the bin", None).await?;
    for page in ["words", "status"] {
        client.goto(&format!("{}/{page}", app.url)).await?;
        client.wait().for_element(Locator::Css("main h1")).await?;
        nothing_in(client, page, None).await?;
    }
    let sheet = format!("{}/jobs/{id}/run-sheet", app.url);
    client.goto(&sheet).await?;
    client.wait().for_element(Locator::Css("table")).await?;
    nothing_in(client, "the run sheet", None).await?;
    Ok(())
}

/// What comes up when files arrive: how several belong together, a drawing, a print file from elsewhere.
#[tokio::test(flavor = "multi_thread")]
async fn nothing_that_arrives_breaks_a_rule() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let folder = desk.data.path();
    let block = |side: f64| stl(&box_mesh([0.0; 3], [side; 3]), "block");
    let drawing = r##"<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
        <rect width="40" height="30" fill="#203550"/><rect x="4" y="26" width="32" height="0.3" fill="#eee7d6"/></svg>"##;
    let moves = "M109 S205\nG28\nG90\nM83\nG0 X40 Y60 Z0.2 F6000\nG1 X100 E12 F1800\nG0 Z20 F600\n";
    let files: [(&str, Vec<u8>); 4] = [
        ("one.stl", block(20.0)),
        ("two.stl", block(30.0)),
        ("badge.svg", drawing.into()),
        ("wall.gcode", moves.into()),
    ];
    for (name, bytes) in &files {
        std::fs::write(folder.join(name), bytes)?;
    }
    let arrivals = [
        (
            "one.stl two.stl",
            "[role='dialog']",
            Some("[role='dialog']"),
        ),
        ("badge.svg", "[aria-label='What it comes to']", None),
        ("wall.gcode", "[aria-label='The file']", None),
    ];
    for (names, comes_up, within) in arrivals {
        client.goto(&app.url).await?;
        let css = "input[aria-label='Model file']";
        let input = client.wait().for_element(Locator::Css(css)).await?;
        let paths: Vec<String> = names
            .split(' ')
            .map(|n| folder.join(n).to_string_lossy().into_owned())
            .collect();
        input.send_keys(&paths.join("\n")).await?;
        client.wait().for_element(Locator::Css(comes_up)).await?;
        tokio::time::sleep(Duration::from_secs(1)).await;
        nothing_in(client, names, within).await?;
    }
    Ok(())
}
