//! The whole line in a real browser: a file goes in, gets a colour and a slot, and comes out with it.

use anyhow::{Context, Result};
use fantoccini::{Client, Locator};
use std::path::Path;
use std::time::Duration;
use varichrom_e2e::{
    App, Browser, Desk, choose_from, chord, drag, hover, press, wait_for, wait_for_text,
};

const BILL: &str = "[aria-label='If printed now']";
const STATUS: &str = "[aria-label='Bench'] [role='status']";
const CONTROL: char = '\u{e009}';
const SHIFT: char = '\u{e008}';
const RIGHT: char = '\u{e014}';

/// A plate with a raised disc in its middle.
fn plate() -> Vec<u8> {
    let disc = (0..48)
        .map(|i| {
            let a = std::f64::consts::TAU * f64::from(i) / 48.0;
            [20.0 * a.cos(), 20.0 * a.sin()]
        })
        .collect();
    let border = vec![[-30.0, -30.0], [30.0, -30.0], [30.0, 30.0], [-30.0, 30.0]];
    let mesh = varichrom_demo::extrude(&[border], &[disc], 0.0, 4.0, Some(7.0));
    varichrom_demo::stl(&mesh, "plate")
}

async fn swaps(client: &Client) -> Result<i64> {
    let text = wait_for(client, BILL, |t| t.contains("Swaps")).await?;
    let after = text.split("Swaps").nth(1).context("a line for swaps")?;
    // A change mark, if there is one, stands before the figure.
    let figures = after
        .split("In the model")
        .next()
        .context("the next line")?;
    figures
        .split_whitespace()
        .last()
        .context("a figure")?
        .parse()
        .context("a number")
}

async fn swaps_become(client: &Client, is_wanted: impl Fn(i64) -> bool) -> Result<i64> {
    for _ in 0..200 {
        let now = swaps(client).await?;
        let css = format!("{BILL}[aria-busy='false']");
        if is_wanted(now) && client.find(Locator::Css(&css)).await.is_ok() {
            return Ok(now);
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    anyhow::bail!("the bill still says {} swaps", swaps(client).await?)
}

async fn click(client: &Client, xpath: &str) -> Result<()> {
    let element = client
        .wait()
        .at_most(Duration::from_secs(20))
        .for_element(Locator::XPath(xpath));
    Ok(element
        .await
        .with_context(|| xpath.to_string())?
        .click()
        .await?)
}

async fn script(client: &Client, js: &str) -> Result<serde_json::Value> {
    Ok(client.execute(js, Vec::new()).await?)
}

pub(crate) async fn downloaded(folder: &Path, ending: &str) -> Result<Vec<u8>> {
    for _ in 0..200 {
        for entry in std::fs::read_dir(folder)? {
            let path = entry?.path();
            if path.to_string_lossy().ends_with(ending) {
                return Ok(std::fs::read(path)?);
            }
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    anyhow::bail!("no {ending} was downloaded")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_goes_in_and_comes_out_coloured_and_planned() -> Result<()> {
    let data = tempfile::tempdir()?;
    // The demo's rack, without looking at its jobs.
    let app = App::start("demo", data.path())?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    let file = data.path().join("raised_disc.stl");
    std::fs::write(&file, plate())?;

    client.goto(&app.url).await?;
    wait_for_text(client, "main", "Pier light").await?;
    let picker = client.find(Locator::Css("input[type=file]")).await?;
    picker.send_keys(&file.to_string_lossy()).await?;
    wait_for_text(client, "[aria-label='Models']", "60.0 × 60.0 × 7.0 mm").await?;
    wait_for_text(client, "[aria-label='Models']", "One fused body").await?;

    // Colour: a new region, hover shows what a click takes, the click changes the bill.
    click(client, "//button[.='Colour it']").await?;
    assert_eq!(swaps_become(client, |n| n == 0).await?, 0);
    click(client, "//button[.='Add']").await?;
    wait_for_text(client, STATUS, "Region 2").await?;
    wait_for_text(client, "[role='toolbar']", " patches").await?;
    tokio::time::sleep(Duration::from_millis(800)).await;
    hover(client, 648.0, 318.0).await?;
    // The disc's top is fanned from 48 corners: 46 facets.
    wait_for_text(client, STATUS, "46 facets to Region 2").await?;
    press(client, 648.0, 318.0).await?;
    let coloured = swaps_become(client, |n| n > 0).await?;
    let mark = client
        .find(Locator::Css("[data-testid='change']"))
        .await?
        .text()
        .await?;
    assert!(
        mark.starts_with('+'),
        "the bill marks what the edit did: {mark}"
    );

    // The region's slot, from its list; a slot another region uses costs no swap.
    choose_from(client, "Slot of Region 2", "1").await?;
    swaps_become(client, |n| n == 0).await?;
    choose_from(client, "Slot of Region 2", "3").await?;
    swaps_become(client, |n| n == coloured).await?;

    // Undo by key twice (slot 3, slot 1), redo by key and by button.
    chord(client, &[CONTROL, 'z']).await?;
    swaps_become(client, |n| n == 0).await?;
    chord(client, &[CONTROL, 'z']).await?;
    swaps_become(client, |n| n == coloured).await?;
    chord(client, &[CONTROL, SHIFT, 'z']).await?;
    swaps_become(client, |n| n == 0).await?;
    click(client, "//button[.='Redo']").await?;
    swaps_become(client, |n| n == coloured).await?;

    // All of it is there after a reload.
    client.refresh().await?;
    swaps_become(client, |n| n == coloured).await?;
    let slot = client
        .find(Locator::Css("[aria-label='Slot of Region 2']"))
        .await?
        .text()
        .await?;
    assert_eq!(slot.trim(), "3");

    // The score: drag, then a key.
    let slider = "[role='slider'][aria-label='Layer of the swap score']";
    client.wait().for_element(Locator::Css(slider)).await?;
    drag(client, (300.0, 690.0), (900.0, 690.0)).await?;
    let layer = async || -> Result<i64> {
        let value = client
            .find(Locator::Css(slider))
            .await?
            .attr("aria-valuenow")
            .await?;
        Ok(value.context("a layer")?.parse()?)
    };
    let dragged = layer().await?;
    assert!(
        (15..35).contains(&dragged),
        "dragged to layer {dragged} of 35"
    );
    chord(client, &[RIGHT]).await?;
    assert_eq!(layer().await?, dragged + 1);

    // Nothing scrolls sideways in any stage at this size.
    let url = client.current_url().await?.to_string();
    let job = url.trim_end_matches("/colour").to_string();
    for stage in ["intake", "colour", "load", "plan", "handover"] {
        client.goto(&format!("{job}/{stage}")).await?;
        client
            .wait()
            .for_element(Locator::Css("nav [aria-current='page']"))
            .await?;
        let wide = script(
            client,
            "return document.documentElement.scrollWidth <= innerWidth",
        )
        .await?;
        assert_eq!(wide, true, "{stage}");
    }

    // The 3MF, read back by the library: the disc's top in the region's colour, the rest in the base's.
    click(client, "//a[@aria-label='Download Coloured model (3MF)']").await?;
    let bytes = downloaded(&browser.downloads(), "model.3mf").await?;
    let model = lib3mf::Model::from_reader(std::io::Cursor::new(bytes))?;
    // One mesh, and the object of all parts that the build names.
    let objects = &model.resources.objects;
    let meshes: Vec<_> = objects.iter().filter_map(|o| o.mesh.as_ref()).collect();
    assert_eq!(
        (model.unit.as_str(), meshes.len(), objects.len()),
        ("millimeter", 1, 2)
    );
    let mesh = meshes[0];
    let colours = &model.resources.color_groups[0].colors;
    for t in &mesh.triangles {
        let z = [t.v1, t.v2, t.v3].map(|v| mesh.vertices[v].z);
        let is_top = z.iter().all(|z| *z > 6.99);
        let colour = colours[t.p1.context("a colour")?];
        // Slot 3 was free when the region was made: it has the colour of the spool in slot 2.
        let expected = if is_top {
            (0xc7, 0x45, 0x2f, 255)
        } else {
            (0xee, 0xe7, 0xd6, 255)
        };
        assert_eq!(colour, expected, "a facet at {z:?}");
    }

    // As closed bodies: what is in the ZIP is said first, volumes beside the plan's.
    click(client, "//button[contains(., 'What is in it')]").await?;
    let bodies = wait_for_text(client, "[data-testid='bodies']", "closed").await?;
    assert!(
        bodies.contains("2 files") && bodies.contains("Region 2"),
        "{bodies}"
    );
    wait_for_text(client, "[data-testid='body-sums']", "In the plan").await?;
    click(
        client,
        "//a[@aria-label='Download One STL for each body (ZIP)']",
    )
    .await?;
    let parts = downloaded(&browser.downloads(), "parts.zip").await?;
    let mut parts = zip::ZipArchive::new(std::io::Cursor::new(parts))?;
    // Two bodies, the table and the note.
    assert_eq!(parts.len(), 4);
    let mut stl = Vec::new();
    std::io::Read::read_to_end(&mut parts.by_index(0)?, &mut stl)?;
    let lid = varichrom_core::model::OpenMesh::from_bytes(&stl)?;
    assert!(
        lid.is_closed() && lid.mesh.bounds().size()[2] < 0.81,
        "{:?}",
        lid.mesh.bounds()
    );

    // The whole job, under the name that a browser gives to a second download, opens as a job of its own.
    click(client, "//a[@aria-label='Download The whole job (ZIP)']").await?;
    let project = downloaded(&browser.downloads(), "project.zip").await?;
    let again = data.path().join("raised-disc-project (1).zip");
    std::fs::write(&again, project)?;
    client.goto(&app.url).await?;
    let picker = client
        .wait()
        .for_element(Locator::Css("input[type=file]"))
        .await?;
    picker.send_keys(&again.to_string_lossy()).await?;
    wait_for_text(client, "[aria-label='Models']", "60.0 × 60.0 × 7.0 mm").await?;
    let opened = client.current_url().await?.to_string();
    assert!(!opened.starts_with(&job), "{opened} is the old job");
    click(client, "//button[.='Colour it']").await?;
    assert_eq!(swaps_become(client, |n| n > 0).await?, coloured);
    browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_refused_file_says_why_and_the_shelf_stays() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let file = desk.data.path().join("cut.stl");
    std::fs::write(&file, &plate()[..600])?;
    client.goto(&app.url).await?;
    wait_for_text(client, "main", "Nothing on the shelf yet").await?;
    let picker = client.find(Locator::Css("input[type=file]")).await?;
    picker.send_keys(&file.to_string_lossy()).await?;
    let notice = wait_for_text(client, "[role='dialog']", "Nothing could be opened").await?;
    assert!(notice.contains("cut.stl"), "{notice}");
    assert!(
        notice.contains("cut short") && notice.contains("again"),
        "{notice}"
    );
    click(client, "//button[.='Close']").await?;
    wait_for_text(client, "main", "Nothing on the shelf yet").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn two_tabs_on_one_job_stay_in_step() -> Result<()> {
    let data = tempfile::tempdir()?;
    let app = App::start("demo", data.path())?;
    let browser = Browser::start().await?;
    let client = &browser.client;
    let http = reqwest::Client::new();
    let shelf: serde_json::Value = http
        .get(format!("{}/api/jobs", app.url))
        .send()
        .await?
        .json()
        .await?;
    let id = &shelf[0]["id"];
    client.goto(&format!("{}/jobs/{id}/load", app.url)).await?;
    wait_for_text(client, "[aria-label='Patch bay']", "Day bands").await?;
    let edit = r#"{"edit":"rename-region","region":"bands","name":"Storm bands"}"#;
    let sent = http
        .post(format!("{}/api/jobs/{id}/edits", app.url))
        .body(edit)
        .send()
        .await?;
    assert!(sent.status().is_success());
    wait_for_text(client, "[aria-label='Patch bay']", "Storm bands").await?;
    browser.client.clone().close().await?;
    Ok(())
}
