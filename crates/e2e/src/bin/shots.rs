//! Takes the pictures of docs/screenshots from the demo data, one for each main view, at 1280 × 800.
//!
//! `shots [FOLDER]`; run through `cargo xtask shots`, which builds what it needs.

use anyhow::{Context, Result};
use fantoccini::Locator;
use serde_json::{Value, json};
use std::path::{Path, PathBuf};
use std::time::Duration;
use varichrom_e2e::{
    App, Browser, StandIn, choose, chord, click, drag, hover, look_from, tool, wait_for,
};

/// Time for the bench to draw in software.
const DRAWN: Duration = Duration::from_millis(1500);

#[tokio::main]
async fn main() -> Result<()> {
    let folder = std::env::args_os().nth(1).map_or_else(
        || Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots"),
        PathBuf::from,
    );
    std::fs::create_dir_all(&folder)?;
    let data = tempfile::tempdir()?;
    let app = App::start("demo", data.path())?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    let save = async |name: &str| -> Result<()> {
        let seen = "return [...document.images].every(i => i.complete || i.getBoundingClientRect().top > innerHeight)";
        while client.execute(seen, Vec::new()).await? != json!(true) {
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
        tokio::time::sleep(DRAWN).await;
        let file = folder.join(format!("{name}.png"));
        std::fs::write(&file, client.screenshot().await?)
            .with_context(|| format!("{} cannot be written", file.display()))?;
        println!("{}", file.display());
        Ok(())
    };
    client.goto(&app.url).await?;
    wait_for(client, "main", |t| t.contains("Pier light")).await?;
    save("shelf").await?;

    let pier = client
        .find(Locator::LinkText("Pier light, souvenir size"))
        .await;
    let href = match pier {
        Ok(link) => link.attr("href").await?.context("a link")?,
        Err(_) => client
            .find(Locator::XPath(
                "//a[contains(., 'Pier light')][contains(@href, 'jobs')]",
            ))
            .await?
            .attr("href")
            .await?
            .context("a link")?,
    };
    let job = format!("{}{}", app.url, href.trim_end_matches("/colour"));
    client.goto(&format!("{job}/intake")).await?;
    wait_for(client, "aside", |t| t.contains("Suits best")).await?;
    let size = client
        .find(Locator::XPath(
            "//*[@aria-label='Placing']//button[.='Size']",
        ))
        .await?;
    size.click().await?;
    save("intake").await?;
    size.click().await?;

    // A drawing on its way to bodies.
    client.goto(&app.url).await?;
    let drawing = data.path().join("harbour-pennant.svg");
    std::fs::write(
        &drawing,
        varichrom_demo::PENNANT.replace("stroke-width=\"1\"", "stroke-width=\"0.31\""),
    )?;
    let picker = client.find(Locator::Css("input[type=file]")).await?;
    picker.send_keys(&drawing.to_string_lossy()).await?;
    wait_for(client, "[aria-label='What it comes to']", |t| {
        t.contains("thinner")
    })
    .await?;
    for label in ["Base plate", "Eyelet"] {
        click(client, &format!("//label[contains(., '{label}')]")).await?;
    }
    wait_for(client, "[aria-label='What it comes to']", |t| {
        t.contains("5 bodies")
    })
    .await?;
    save("drawing").await?;

    client.goto(&format!("{job}/colour")).await?;
    wait_for(client, "[aria-label='If printed now']", |t| {
        t.contains("Swaps")
    })
    .await?;
    tokio::time::sleep(DRAWN).await;
    hover(client, 640.0, 330.0).await?;
    save("colour").await?;
    let job_called = async |name: &str| -> Result<String> {
        client.goto(&app.url).await?;
        let xpath = format!("//main//a[contains(., '{name}')][contains(@href, 'jobs')]");
        let link = client.wait().for_element(Locator::XPath(&xpath)).await?;
        let href = link.attr("href").await?.context("a link")?;
        Ok(format!("{}{href}", app.url))
    };
    let ready = async || {
        wait_for(client, "[aria-label='If printed now']", |t| {
            t.contains("Swaps")
        })
        .await
    };
    // The devices of a tile by one click, about to be taken; as seen from above, in the upper left tile.
    client.goto(&job_called("Signal tiles, set").await?).await?;
    ready().await?;
    let signals = "//button[normalize-space(.)='Add']";
    click(client, signals).await?;
    tool(client, "Relief").await?;
    click(client, "//label[contains(., 'all at this height')]").await?;
    look_from(client, "above").await?;
    hover(client, 735.0, 412.0).await?;
    save("relief").await?;
    // Flush lettering made by the inlay tool, on the cut that shows how deep it goes, with what each depth costs.
    client.goto(&job_called("Tide plaque").await?).await?;
    ready().await?;
    click(client, "//*[@role='radio'][.='Parts']").await?;
    tool(client, "Inlay").await?;
    click(client, "//button[normalize-space(.)='Cut']").await?;
    for _ in 0..18 {
        chord(client, &['.']).await?;
    }
    tokio::time::sleep(DRAWN).await;
    save("inlay").await?;
    click(client, "//button[normalize-space(.)='Cut']").await?;
    // A gull by strokes alone, with its steps.
    client.goto(&job_called("Gull").await?).await?;
    ready().await?;
    choose(client, "Mantle").await?;
    tool(client, "Dab").await?;
    click(client, "//*[@role='tab'][.='Steps']").await?;
    tokio::time::sleep(DRAWN).await;
    hover(client, 640.0, 300.0).await?;
    save("strokes").await?;
    // A picture wound around a float, taken in hand again from the list of steps.
    client.goto(&job_called("Postcard float").await?).await?;
    ready().await?;
    click(client, "//*[@role='tab'][.='Steps']").await?;
    click(
        client,
        "//button[starts-with(@aria-label, 'Change what step')]",
    )
    .await?;
    wait_for(client, "[aria-label='What is laid']", |t| {
        t.contains("postcard")
    })
    .await?;
    tokio::time::sleep(DRAWN).await;
    save("laid").await?;
    // A picture of many greys in three spools.
    client.goto(&app.url).await?;
    let dusk = data.path().join("bay-at-dusk.png");
    std::fs::write(&dusk, varichrom_demo::dusk())?;
    let picker = client.find(Locator::Css("input[type=file]")).await?;
    picker.send_keys(&dusk.to_string_lossy()).await?;
    click(client, "//button[.='Shades, stacked']").await?;
    let spools = "//*[@aria-label='Spools it is stacked of']";
    click(client, &format!("{spools}//label[contains(., 'Slate')]")).await?;
    wait_for(client, "[aria-label='What it comes to']", |t| {
        t.contains("2 swaps")
    })
    .await?;
    save("shades").await?;

    // A printer that holds two spools the other way round.
    let printer = StandIn::start("wrong")?;
    let number = job.rsplit('/').next().context("a number")?;
    let api = format!("{}/api/jobs/{number}", app.url);
    let http = reqwest::Client::new();
    let set_printer = async |printer: Value| -> Result<()> {
        let edit = json!({ "edit": "set-printer", "printer": printer });
        let sent = http.post(format!("{api}/edits")).json(&edit).send();
        sent.await?.error_for_status()?;
        Ok(())
    };
    let mut settings = reqwest::get(&api).await?.json::<Value>().await?["printer"].take();
    settings["address"] = json!(printer.url);
    set_printer(settings).await?;
    client.goto(&format!("{job}/load")).await?;
    let bay = "[aria-label='Patch bay']";
    wait_for(client, bay, |t| t.contains("takes")).await?;
    click(client, "//button[.='Ask the printer']").await?;
    wait_for(client, bay, |t| t.contains("printer holds")).await?;
    save("load").await?;

    client.goto(&format!("{job}/plan")).await?;
    wait_for(client, "[aria-label='Rinse']", |t| t.contains("mm³")).await?;
    drag(client, (500.0, 120.0), (640.0, 120.0)).await?;
    save("plan").await?;
    // The beads of a layer with two colours, played half way, beside how it is printed.
    click(client, "//button[.='Beads']").await?;
    wait_for(client, "[aria-label='Beads']", |t| t.contains("bead ")).await?;
    click(client, "//button[@aria-label='Play the layer']").await?;
    tokio::time::sleep(std::time::Duration::from_millis(1500)).await;
    click(client, "//button[@aria-label='Pause']").await?;
    click(client, "//button[.='How it prints']").await?;
    wait_for(client, "[aria-label='How it prints']", |t| {
        t.contains("Walls")
    })
    .await?;
    save("beads").await?;
    click(client, "//button[.='How it prints']").await?;
    click(client, "//button[.='Beads']").await?;
    let tab = async |name: &str| -> Result<()> {
        let xpath = format!("//*[@role='tab'][starts-with(., '{name}')]");
        click(client, &xpath).await
    };
    tab("Ways").await?;
    wait_for(client, "[aria-label='Ways to run this job']", |t| {
        t.contains("Least time") && !t.contains("being tried")
    })
    .await?;
    save("ways").await?;
    tab("Rinse").await?;
    // Tiles coloured in haste: what each snag would save, and where one is.
    let hasty = job_called("haste").await?;
    client.goto(&hasty.replace("/colour", "/plan")).await?;
    tab("Snags").await?;
    wait_for(client, "[aria-label='Snags']", |t| t.contains("Bare walls")).await?;
    click(
        client,
        "//section[@aria-label='Snags']//li[contains(., 'Bare walls')]//button[.='Show']",
    )
    .await?;
    save("snags").await?;
    tab("Rinse").await?;

    client.goto(&format!("{job}/handover")).await?;
    wait_for(client, "[aria-label='From the moves']", |t| {
        t.contains("Laying down")
    })
    .await?;
    save("handover").await?;

    // The same print as if another program had made it,: read on its moves alone.
    let api = job.replacen("/jobs/", "/api/jobs/", 1);
    let own = reqwest::get(format!("{api}/files/print.gcode")).await?;
    let elsewhere = format!("{api}/sliced?file=pier-light-by-another-hand.gcode");
    let http = reqwest::Client::new();
    let kept = http.post(elsewhere).body(own.bytes().await?).send().await?;
    let kept: Value = kept.error_for_status()?.json().await?;
    client.goto(&format!("{job}/sliced/{}", kept["id"])).await?;
    wait_for(client, "[aria-label='Beads of the file']", |t| {
        t.contains("bead")
    })
    .await?;
    let score = client.wait().for_element(fantoccini::Locator::Css(
        "[aria-label=\"Layer of the file's score\"]",
    ));
    let ten_up = "\u{e00e}".repeat(11);
    score.await?.send_keys(&ten_up).await?;
    wait_for(client, "[aria-label='Beads of the file']", |t| {
        t.contains("Layer 111")
    })
    .await?;
    tokio::time::sleep(std::time::Duration::from_millis(800)).await;
    save("print-file").await?;

    // The print run through, up to the blue gallery, where a spool ends.
    client.goto(&format!("{job}/rehearsal")).await?;
    wait_for(client, "[aria-label='What happened']", |t| {
        t.contains("Swap 73")
    })
    .await?;
    click(client, "//button[.='Run out']").await?;
    wait_for(client, "[role='alert']", |t| t.contains("is empty")).await?;
    tokio::time::sleep(std::time::Duration::from_millis(1500)).await;
    save("rehearsal").await?;

    client.goto(&format!("{job}/run-sheet")).await?;
    wait_for(client, "main", |t| t.contains("Swaps")).await?;
    save("run-sheet").await?;

    // The same job on a mixing nozzle: every region as near to its colour as three feeds come.
    let printers = format!("{}/api/printers", app.url);
    let mut printers: Value = reqwest::get(printers).await?.json().await?;
    let mixing = printers["printers"]
        .as_array_mut()
        .and_then(|all| all.pop());
    set_printer(mixing.context("a printer")?["printer"].take()).await?;
    client.goto(&format!("{job}/load")).await?;
    wait_for(client, bay, |t| t.contains("Feed 3")).await?;
    click(client, "//*[@role='tab'][.='Mixtures']").await?;
    for n in 1..=4 {
        click(client, &format!("(//button[.='Come nearest'])[{n}]")).await?;
        wait_for(
            client,
            &format!("[aria-label='Mixtures'] li:nth-child({n}) [role='status']"),
            |t| t.contains("differs"),
        )
        .await?;
    }
    let up = "document.querySelector(\"[aria-label='Patch bay']\").closest('.overflow-auto').scrollTop = 0";
    client.execute(up, Vec::new()).await?;
    save("mixtures").await?;
    browser.client.clone().close().await?;
    Ok(())
}
