//! More regions than the bench first had colours for, and what one job has in hand that the next must not.

use anyhow::{Result, ensure};
use fantoccini::Locator;
use serde_json::json;
use std::time::Duration;
use varichrom_demo::{box_mesh, stl};
use varichrom_e2e::{BenchJob, Browser, Desk, chord, click, look_from};

/// The bench alone, once it stands still.
async fn bench(browser: &Browser) -> Result<Vec<u8>> {
    let canvas = browser
        .client
        .find(Locator::Css("[aria-label='Bench'] canvas"))
        .await?;
    let mut before = Vec::new();
    for _ in 0..40 {
        tokio::time::sleep(Duration::from_millis(400)).await;
        let now = canvas.screenshot().await?;
        if now == before {
            return Ok(now);
        }
        before = now;
    }
    anyhow::bail!("the bench does not come to rest")
}

#[tokio::test(flavor = "multi_thread")]
async fn of_seventy_regions_no_two_share_a_colour_on_the_bench() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    for n in 1..=70 {
        job.add(&format!("r{n}"), "#888888").await?;
    }
    let model = job.get("").await?["models"][0]["name"].clone();
    let at = json!({ "model": model, "point": [20.0, 10.0, 20.0], "normal": [0.0, 0.0, 1.0] });
    job.edit(json!({ "edit": "give-patch", "region": "r69", "at": at, "crease_deg": 30 }))
        .await?;
    job.open(client).await?;
    look_from(client, "above").await?;
    bench(&desk.browser).await?;
    // The page is as large as it stays.
    look_from(client, "above").await?;
    let before = bench(&desk.browser).await?;
    // Numbers that a table of 64 or of 16 would take for that of the top. The page hears of edits in order: once the top
    // was seen to change and to change back, it knows of the others too.
    for other in ["r5", "r53", "r13"] {
        job.edit(json!({ "edit": "recolour-region", "region": other, "colour": "#c02020" }))
            .await?;
    }
    for (colour, is_as_before) in [("#2040c0", false), ("#888888", true)] {
        job.edit(json!({ "edit": "recolour-region", "region": "r69", "colour": colour }))
            .await?;
        let mut looks_left = 20;
        while (bench(&desk.browser).await? == before) != is_as_before {
            looks_left -= 1;
            ensure!(
                looks_left > 0,
                "{colour} on r69: as before should be {is_as_before}"
            );
        }
    }
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_shown_alone_in_one_job_is_not_in_the_next() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let two = |apart: f64| {
        let boxes = [
            box_mesh([0.0; 3], [10.0; 3]),
            box_mesh([apart, 0.0, 0.0], [apart + 10.0, 10.0, 10.0]),
        ];
        stl(&varichrom_demo::together(&boxes), "two")
    };
    let first = BenchJob::of(app, "first.stl", two(20.0)).await?;
    let second = BenchJob::of(app, "second.stl", two(30.0)).await?;
    second.open(client).await?;
    // On a busy machine the view may be fitted before the page has its sizes: until it stays as it is.
    let mut whole = bench(&desk.browser).await?;
    for _ in 0..10 {
        chord(client, &['f']).await?;
        let next = bench(&desk.browser).await?;
        if std::mem::replace(&mut whole, next) == whole {
            break;
        }
    }
    first.open(client).await?;
    click(
        client,
        "//button[starts-with(@aria-label, 'More for part') and contains(@aria-label, ' 2')]",
    )
    .await?;
    click(client, "//*[@role='menuitem'][contains(., 'Show alone')]").await?;
    client
        .wait()
        .for_element(Locator::XPath("//button[.='Show all']"))
        .await?;
    // To the shelf and into the other job, without loading the page again.
    click(client, "//header//a[contains(., 'Varichrom')]").await?;
    click(client, "//main//a[contains(., 'Second')]").await?;
    client
        .wait()
        .for_element(Locator::XPath("//nav//*[contains(., 'Colour')]"))
        .await?;
    click(
        client,
        "//nav//*[self::a or self::button][contains(., 'Colour')]",
    )
    .await?;
    client
        .wait()
        .for_element(Locator::Css("[aria-label='Bench'][data-drawn]"))
        .await?;
    ensure!(
        client
            .find_all(Locator::XPath("//button[.='Show all']"))
            .await?
            .is_empty(),
        "still shown alone"
    );
    // What was hidden would stay so, however the view is fitted.
    let mut looks_left = 10;
    chord(client, &['f']).await?;
    while bench(&desk.browser).await? != whole {
        looks_left -= 1;
        ensure!(looks_left > 0, "something is hidden in the second job");
        chord(client, &['f']).await?;
    }
    desk.browser.client.clone().close().await?;
    Ok(())
}
