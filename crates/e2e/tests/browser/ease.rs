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

/// The guide ships with the program: each room opens its page beside the work, and a refusal leads to the page that tells about it.
#[tokio::test(flavor = "multi_thread")]
async fn the_guide_opens_at_the_room_and_at_what_was_refused() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block");
    let job = BenchJob::of(app, "block.stl", block).await?;
    job.open(client).await?;
    // A name that is too long is refused.
    type_into(client, "Name of Plain", &"long ".repeat(60)).await?;
    let alert = wait_for(client, "[role='alert']", |t| t.contains("In the guide")).await?;
    ensure!(!alert.is_empty());
    let work = client.window().await?;
    let beside = |work| async move {
        let all = client.windows().await?;
        let other = all.into_iter().find(|w| *w != work);
        anyhow::Ok(other)
    };
    for (link, page) in [
        (
            "//*[@role='alert']//a[.='In the guide']",
            "When something is refused",
        ),
        (
            "//a[@aria-label='The guide: Colour']",
            "regions on the surface",
        ),
    ] {
        click(client, link).await?;
        let mut opened = beside(work.clone()).await?;
        for _ in 0..50 {
            if opened.is_some() {
                break;
            }
            tokio::time::sleep(std::time::Duration::from_millis(100)).await;
            opened = beside(work.clone()).await?;
        }
        client
            .switch_to_window(opened.expect("a page beside the work"))
            .await?;
        wait_for(client, "article", |t| t.contains(page)).await?;
        client.close_window().await?;
        client.switch_to_window(work.clone()).await?;
    }
    // All pages, one after the other, each with its text and pictures that are there.
    client.goto(&format!("{}/guide", app.url)).await?;
    wait_for(client, "nav[aria-label='Guide']", |t| t.contains("refused")).await?;
    let count = client.find_all(Locator::Css("nav li")).await?.len();
    ensure!(count == 10, "{count} pages");
    for page in 1..=count {
        click(
            client,
            &format!("//nav[@aria-label='Guide']//li[{page}]//a"),
        )
        .await?;
        wait_for(client, "article .prose", |t| t.len() > 300).await?;
        let broken =
            "return [...document.images].filter(i => i.complete && i.naturalWidth === 0).length";
        let broken = client.execute(broken, Vec::new()).await?;
        ensure!(broken == json!(0), "page {page}: {broken}");
    }
    Ok(())
}
