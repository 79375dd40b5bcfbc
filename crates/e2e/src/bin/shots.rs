//! Takes the pictures of docs/screenshots from the demo data, one for each main view, at 1280 × 800.
//!
//! `shots [FOLDER]`; run through `cargo xtask shots`, which builds what it needs.

use anyhow::{Context, Result};
use fantoccini::Locator;
use std::path::{Path, PathBuf};
use std::time::Duration;
use varichrom_e2e::{App, Browser, drag, hover, wait_for};

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
    wait_for(client, "aside", |t| t.contains("fused body")).await?;
    save("intake").await?;

    client.goto(&format!("{job}/colour")).await?;
    wait_for(client, "[aria-label='If printed now']", |t| {
        t.contains("Swaps")
    })
    .await?;
    tokio::time::sleep(DRAWN).await;
    hover(client, 640.0, 330.0).await?;
    save("colour").await?;

    client.goto(&format!("{job}/load")).await?;
    wait_for(client, "[aria-label='Colour regions']", |t| {
        t.contains(" g")
    })
    .await?;
    save("load").await?;

    client.goto(&format!("{job}/plan")).await?;
    wait_for(client, "[aria-label='Rinse']", |t| t.contains("mm³")).await?;
    drag(client, (500.0, 120.0), (640.0, 120.0)).await?;
    save("plan").await?;

    client.goto(&format!("{job}/handover")).await?;
    wait_for(client, "table", |t| t.contains("3MF")).await?;
    save("handover").await?;

    client.goto(&format!("{job}/run-sheet")).await?;
    wait_for(client, "main", |t| t.contains("Swaps")).await?;
    save("run-sheet").await?;
    browser.client.clone().close().await?;
    Ok(())
}
