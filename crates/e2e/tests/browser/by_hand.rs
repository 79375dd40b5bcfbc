//! What a maker does besides the whole line: keys, the other stages, the palette, deleting.

use anyhow::{Context, Result};
use fantoccini::{Client, Locator};
use std::time::Duration;
use varichrom_e2e::{App, Browser, chord, click, press, type_into, wait_for, wait_for_text};

const BILL: &str = "[aria-label='If printed now']";
const REGIONS: &str = "[aria-label='Colour regions']";
const CONTROL: char = '\u{e009}';
const ALT: char = '\u{e00a}';
const ENTER: char = '\u{e007}';

/// Opens a demo job by its name, in a stage.
async fn open(client: &Client, url: &str, name: &str, stage: &str) -> Result<()> {
    client.goto(url).await?;
    let xpath = format!("//main//a[contains(., '{name}')]");
    let link = client.wait().for_element(Locator::XPath(&xpath)).await?;
    let href = link.attr("href").await?.context("a link")?;
    Ok(client
        .goto(&format!("{url}{}", href.replace("colour", stage)))
        .await?)
}

async fn chosen(client: &Client) -> Result<String> {
    let css = format!("{REGIONS} [aria-current='true'] input[aria-label^='Name']");
    let row = client.find(Locator::Css(&css)).await?;
    row.prop("value").await?.context("a name")
}

#[tokio::test(flavor = "multi_thread")]
async fn keys_choose_regions_tools_layers_and_stages() -> Result<()> {
    let data = tempfile::tempdir()?;
    let app = App::start("demo", data.path())?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    open(client, &app.url, "Pier light", "colour").await?;
    wait_for_text(client, BILL, "Swaps").await?;
    assert_eq!(chosen(client).await?, "Tower, plain");
    chord(client, &[']']).await?;
    assert_eq!(chosen(client).await?, "Day bands");
    chord(client, &['[']).await?;
    chord(client, &['[']).await?;
    assert_eq!(chosen(client).await?, "Lantern glass");

    chord(client, &['w']).await?;
    let pressed = "[role='toolbar'] [aria-pressed='true']";
    assert_eq!(wait_for(client, pressed, |_| true).await?, "Whole part");
    chord(client, &['p']).await?;
    assert_eq!(wait_for(client, pressed, |_| true).await?, "Patch");

    let layer = async || -> Result<String> {
        let slider = client.find(Locator::Css("svg[role='slider']")).await?;
        slider.attr("aria-valuenow").await?.context("a layer")
    };
    chord(client, &['.']).await?;
    chord(client, &['.']).await?;
    chord(client, &[',']).await?;
    assert_eq!(layer().await?, "2");

    // Typing in a field is only typing.
    let name = client
        .find(Locator::Css("input[aria-label='Name of Lantern glass']"))
        .await?;
    name.click().await?;
    name.send_keys("[w.").await?;
    chord(client, &[ENTER]).await?;
    wait_for(client, "header", |_| true).await?;
    assert_eq!(layer().await?, "2");
    // The name is the server's to say.
    let renamed = "input[aria-label^='Name of'][aria-label*='[w.']";
    client.wait().for_element(Locator::Css(renamed)).await?;
    assert!(chosen(client).await?.contains("[w."));

    chord(client, &[ALT, '4']).await?;
    wait_for_text(client, "nav [aria-current='page']", "Plan").await?;
    // The palette: type, enter.
    chord(client, &[CONTROL, 'k']).await?;
    let field = client
        .wait()
        .for_element(Locator::Css("[cmdk-input]"))
        .await?;
    field.send_keys("handover").await?;
    chord(client, &[ENTER]).await?;
    wait_for_text(client, "nav [aria-current='page']", "Handover").await?;
    browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn spools_and_settings_change_the_plan() -> Result<()> {
    let data = tempfile::tempdir()?;
    let app = App::start("demo", data.path())?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    open(client, &app.url, "Pier light", "plan").await?;
    let rinse = "section[aria-label='Rinse']";
    wait_for_text(client, rinse, "Ink-blue → Chalk").await?;
    open(client, &app.url, "Pier light", "load").await?;
    let bay = "[aria-label='Patch bay']";
    wait_for_text(client, bay, "of 700 g").await?;
    for card in ["Slot 3", "Spool Moss green"] {
        let css = format!("[data-end][aria-label^='{card}']");
        client.find(Locator::Css(&css)).await?.click().await?;
    }
    wait_for_text(client, bay, "of 55 g").await?;
    open(client, &app.url, "Pier light", "plan").await?;
    let drawer = "//button[.='How it prints']";
    let button = client.wait().for_element(Locator::XPath(drawer)).await?;
    button.click().await?;
    // A layer twice as high: half the layers.
    let height = client
        .wait()
        .for_element(Locator::Css("input[aria-label='Layer height']"))
        .await?;
    height.click().await?;
    height.send_keys("0.4").await?;
    chord(client, &[ENTER]).await?;
    wait_for_text(client, "[aria-label='How it prints']", "0.20 mm").await?;
    client.find(Locator::XPath(drawer)).await?.click().await?;
    let text = wait_for_text(client, rinse, "Moss green → Chalk").await?;
    assert!(!text.contains("Ink-blue"), "{text}");
    // 58.3 mm in layers of 0.4 mm, once they are planned.
    let mut layers = 0;
    for _ in 0..200 {
        let slider = client.find(Locator::Css("svg[role='slider']")).await?;
        layers = slider
            .attr("aria-valuemax")
            .await?
            .context("layers")?
            .parse()?;
        if (144..=147).contains(&layers) {
            break;
        }
        tokio::time::sleep(Duration::from_millis(60)).await;
    }
    assert!((144..=147).contains(&layers), "{layers} layers");

    // The layer is drawn: its middle is not the empty bench.
    wait_for_text(client, "[aria-label='Layer']", "Layer 1").await?;
    tokio::time::sleep(Duration::from_millis(600)).await;
    let js = "const c = document.querySelector(\"[aria-label='Layer'] canvas\"); \
              const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; \
              let n = 0; for (let i = 3; i < d.length; i += 4) if (d[i] > 200) n++; \
              return n / (d.length / 4);";
    let painted = client
        .execute(js, Vec::new())
        .await?
        .as_f64()
        .context("a share")?;
    assert!(painted > 0.1, "only {painted} of the layer pane is painted");
    // A setting no printer has is refused in words, and the field goes back.
    client.find(Locator::XPath(drawer)).await?.click().await?;
    let infill = client
        .wait()
        .for_element(Locator::Css("input[aria-label='Infill']"))
        .await?;
    infill.click().await?;
    infill.send_keys("300").await?;
    chord(client, &[ENTER]).await?;
    wait_for_text(client, "[role='alert']", "300 % cannot be the infill").await?;
    assert_eq!(infill.prop("value").await?.as_deref(), Some("15"));
    browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn parts_are_given_whole_from_the_list_and_jobs_are_deleted_only_when_sure() -> Result<()> {
    let data = tempfile::tempdir()?;
    let app = App::start("demo", data.path())?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    open(client, &app.url, "Signal tiles, set", "colour").await?;
    wait_for_text(client, BILL, "Swaps").await?;
    client
        .find(Locator::XPath("//button[.='Add']"))
        .await?
        .click()
        .await?;
    wait_for_text(client, "[aria-label='Bench'] [role='status']", "Region 2").await?;
    let more =
        Locator::Css("[aria-label='Parts'] [role='row']:nth-child(2) button[aria-label^='More']");
    let (x, y, w, h) = client.find(more).await?.rectangle().await?;
    press(client, x + w / 2.0, y + h / 2.0).await?;
    let give = Locator::XPath("//*[@role='menuitem'][.='Give to Region 2']");
    client.wait().for_element(give).await?.click().await?;
    let own = "[aria-label='Parts'] [role='row']:nth-child(2) [title^='Own region']";
    for _ in 0..100 {
        let title = client.find(Locator::Css(own)).await?.attr("title").await?;
        if title.as_deref() == Some("Own region: Region 2") {
            break;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    let title = client.find(Locator::Css(own)).await?.attr("title").await?;
    assert_eq!(title.as_deref(), Some("Own region: Region 2"));

    client.goto(&app.url).await?;
    wait_for_text(client, "main", "Signal tiles, set").await?;
    from_menu(client, "Signal tiles, set of four", "Delete").await?;
    wait_for(client, "main", |t| {
        !t.contains("Signal tiles, set") && t.contains("Pier light")
    })
    .await?;
    click(client, "//button[.='Bring back']").await?;
    wait_for_text(client, "main", "Signal tiles, set").await?;
    // A copy of it is a job of its own, tagged and found by its tag.
    from_menu(client, "Signal tiles, set of four", "Duplicate").await?;
    wait_for_text(client, "main", "Signal tiles, set of four 2").await?;
    click(
        client,
        "//input[@aria-label='Choose Signal tiles, set of four 2']",
    )
    .await?;
    click(client, "//button[.='Tag…']").await?;
    type_into(client, "Tags for all chosen", "club, gifts").await?;
    wait_for_text(client, "main", "club, gifts").await?;
    type_into(client, "Look for jobs", "GIFTS four").await?;
    wait_for(client, "main", |t| {
        t.contains("set of four 2") && !t.contains("Pier light")
    })
    .await?;
    type_into(client, "Look for jobs", "pier").await?;
    wait_for_text(client, "main", "Pier light").await?;
    type_into(client, "Look for jobs", " ").await?;
    // Deleted, it lies in the bin and can be brought back from there.
    from_menu(client, "Signal tiles, set of four 2", "Delete").await?;
    wait_for(client, "main", |t| !t.contains("set of four 2")).await?;
    click(client, "//*[@aria-label='Where to look']//button[.='Bin']").await?;
    wait_for_text(client, "main", "set of four 2").await?;
    click(client, "//main//button[.='Bring back']").await?;
    wait_for_text(client, "main", "The bin is empty").await?;
    browser.client.clone().close().await?;
    Ok(())
}

/// Takes something from the menu of a job on the shelf.
async fn from_menu(client: &Client, job: &str, item: &str) -> Result<()> {
    click(client, &format!("//button[@aria-label='More for {job}']")).await?;
    click(client, &format!("//*[@role='menuitem'][.='{item}']")).await
}
