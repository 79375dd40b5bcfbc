//! Alike, the ways of seeing, regions, strays, steps, two tabs, reference: by the real pointer and keyboard.

use crate::whole_line::downloaded;
use anyhow::{Context, Result};
use serde_json::json;
use std::f64::consts::PI;
use std::time::Duration;
use varichrom_demo::{box_mesh, compass_coaster, stl};
use varichrom_e2e::{
    BenchJob, Desk, MIDDLE, choose, choose_from, chord, click, hover, look_from, press, type_into,
    wait_for, wait_for_text,
};

const CONTROL: char = '\u{e009}';
const STATUS: &str = "[aria-label='Bench'] [role='status']";

fn near(wanted: f64, slack: f64) -> impl Fn(f64) -> bool {
    move |area| (area - wanted).abs() <= slack
}

/// A block of 40 × 30 × 20 mm: twelve facets.
fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block")
}

#[tokio::test(flavor = "multi_thread")]
async fn alike_alone_apart_and_the_ways_of_seeing() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "coaster.stl", stl(&compass_coaster(), "coaster")).await?;
    job.add("rose", "#c7452f").await?;
    let up = [0.0, 0.0, 1.0];
    let model = job.get("").await?["models"][0]["name"].clone();
    let at = json!({ "model": model, "point": [20.0, 0.0, 4.6], "normal": up });
    let top = json!({ "edit": "give-patch", "region": "rose", "at": at, "crease_deg": 30 });
    job.edit(top).await?;
    job.open(client).await?;
    choose(client, "rose").await?;
    look_from(client, "above").await?;
    // A long point lies to the right of the middle; its share of the region goes to its three copies.
    chord(client, &['a']).await?;
    let point = (MIDDLE.0 + 80.0, MIDDLE.1);
    hover(client, point.0, point.1).await?;
    wait_for_text(client, STATUS, "3 copies").await?;
    press(client, point.0, point.1).await?;
    job.area_when("rose", near(4.0 * 140.0, 0.01)).await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("rose", near(140.0, 0.01)).await?;
    // Patches of the same make: top and underside of all four.
    choose_from(client, "What is alike", "same make").await?;
    press(client, point.0, point.1).await?;
    job.area_when("rose", near(8.0 * 140.0, 0.01)).await?;

    // Each way of seeing changes the picture, and switched off brings the same one back.
    let picture = async || -> Result<Vec<u8>> {
        hover(client, 20.0, 790.0).await?;
        tokio::time::sleep(Duration::from_millis(900)).await;
        Ok(client.screenshot().await?)
    };
    let plain = picture().await?;
    for look in ["Patterns", "Grey", "Edges", "X-ray", "Apart"] {
        let button = format!("//button[normalize-space(.)='{look}']");
        click(client, &button).await?;
        assert_ne!(picture().await?, plain, "{look}");
        click(client, &button).await?;
        assert_eq!(picture().await?, plain, "{look} off");
    }
    // One part alone: the disc is gone, so a click beside the point hits nothing.
    click(
        client,
        "//button[starts-with(@aria-label, 'More for part') and contains(@aria-label, ' 3')]",
    )
    .await?;
    click(client, "//*[@role='menuitem'][contains(., 'Show alone')]").await?;
    chord(client, &['w']).await?;
    let before = job.area("rose").await?;
    press(client, MIDDLE.0, MIDDLE.1 + 150.0).await?;
    tokio::time::sleep(Duration::from_millis(400)).await;
    assert_eq!(job.area("rose").await?, before);
    click(client, "//button[.='Show all']").await?;
    press(client, MIDDLE.0, MIDDLE.1 + 150.0).await?;
    job.area_when("rose", |a| a > before + 1000.0).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn region_menu_strays_and_steps() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("red", "#c7452f").await?;
    let model = job.get("").await?["models"][0]["name"].clone();
    let dab = |region: &str, x: f64, radius: f64| {
        json!({ "edit": "give-stroke", "region": region, "reach": "dab", "stroke": {
            "model": model, "path": [[x, 15.0, 20.0]], "radius_mm": radius, "eye": [20.0, 15.0, 200.0],
        }})
    };
    job.edit(dab("red", 20.0, 6.0)).await?;
    job.edit(dab("own", 20.0, 0.8)).await?;
    job.open(client).await?;
    choose(client, "red").await?;
    let more = "//button[@aria-label='More for red']";
    let menu = async |item: &str| -> Result<()> {
        click(client, more).await?;
        click(
            client,
            &format!("//*[@role='menuitem'][contains(., '{item}')]"),
        )
        .await
    };
    // The missed spot in the middle: found, shown, given.
    click(client, "//*[@role='tab'][.='Strays']").await?;
    wait_for_text(client, "[aria-label='Strays']", "Missed spot").await?;
    click(
        client,
        "//*[@aria-label='Strays']//button[contains(., 'Missed spot')]",
    )
    .await?;
    click(
        client,
        "//*[@aria-label='Strays']//button[contains(., 'Give to red')]",
    )
    .await?;
    let disc = job.area_when("red", near(36.0 * PI, 2.0)).await?;
    wait_for_text(client, "[aria-label='Strays']", "Nothing missed").await?;
    // Grow by half a millimetre, as the menu has it, and shrink again.
    menu("Grow").await?;
    job.area_when("red", near(6.5 * 6.5 * PI, 3.0)).await?;
    menu("Shrink").await?;
    job.area_when("red", near(disc, 3.0)).await?;
    menu("Smooth").await?;
    menu("Invert").await?;
    job.area_when("red", |a| a > 5000.0).await?;
    menu("Protect").await?;
    wait_for(client, "[aria-label='Protected']", |_| true).await?;
    menu("Protect").await?;
    chord(client, &[CONTROL, 'z']).await?;
    chord(client, &[CONTROL, 'z']).await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(disc, 3.0)).await?;

    // The steps: go back to the first dab, and forward again.
    click(client, "//*[@role='tab'][.='Steps']").await?;
    let steps = "[aria-label='Steps']";
    wait_for_text(client, steps, "Dab of 6 mm to red").await?;
    click(
        client,
        "//*[@aria-label='Steps']//button[contains(., 'Dab of 6 mm')]",
    )
    .await?;
    job.area_when("red", near(36.0 * PI, 2.0)).await?;
    click(
        client,
        "//*[@aria-label='Steps']//button[contains(., 'Give a stray')]",
    )
    .await?;
    job.area_when("red", near(disc, 1e-6)).await?;
    // Another radius for the first dab: everything after is done again.
    let number = job.get("/steps").await?["steps"]
        .as_array()
        .and_then(|s| {
            s.iter()
                .find(|s| s["what"] == "Dab of 6 mm to red")
                .cloned()
        })
        .context("the step")?["number"]
        .as_u64()
        .context("a number")?;
    click(
        client,
        &format!("//button[@aria-label='Change the numbers of step {number}']"),
    )
    .await?;
    type_into(client, &format!("Radius of step {number}"), "4").await?;
    job.area_when("red", near(16.0 * PI, 1.5)).await?;
    wait_for_text(client, steps, "Change step").await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(disc, 1e-6)).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn two_tabs_stay_in_step_and_a_recipe_replays_on_another_job() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("red", "#c7452f").await?;
    job.open(client).await?;
    let share = "[aria-label='Colour regions']";
    wait_for_text(client, share, "100.0 %").await?;
    // Someone else paints; this tab shows it.
    let band = json!({ "edit": "give-band", "region": "red", "low_mm": 5, "high_mm": 10 });
    job.edit(band).await?;
    wait_for_text(client, share, "13.5 %").await?;
    // Its recipe on another block, twice as tall: the band is where it was.
    let recipe = job.get("/files/recipe.json").await?;
    let tall = stl(&box_mesh([0.0; 3], [40.0, 30.0, 40.0]), "tall");
    let other = BenchJob::of(app, "tall.stl", tall).await?;
    let file = desk.data.path().join("recipe.json");
    std::fs::write(&file, recipe.to_string())?;
    other.open(client).await?;
    click(client, "//*[@role='tab'][.='Steps']").await?;
    let input = client
        .find(fantoccini::Locator::Css("input[aria-label='Recipe file']"))
        .await?;
    input.send_keys(&file.to_string_lossy()).await?;
    wait_for_text(client, "[aria-label='Steps']", "steps done").await?;
    other.area_when("red", near(700.0, 1e-6)).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn colours_come_from_figures_a_picture_and_palettes() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("red", "#c7452f").await?;
    job.open(client).await?;
    choose(client, "red").await?;
    let colour = async |wanted: &str| -> Result<()> {
        for _ in 0..100 {
            if job.get("").await?["regions"][1]["colour"] == wanted {
                return Ok(());
            }
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
        anyhow::bail!("the colour does not become {wanted}")
    };
    type_into(client, "Colour of red in figures", "12, 200, 90").await?;
    colour("#0cc85a").await?;
    type_into(client, "Colour of red in figures", "3a5f7d").await?;
    colour("#3a5f7d").await?;
    // A palette of these colours is kept for other jobs.
    click(client, "//button[.='Keep as palette']").await?;
    wait_for(client, "button[aria-label='red #3a5f7d']", |_| true).await?;
    // A picture: left half one colour, right half another.
    let svg = "<svg xmlns='http://www.w3.org/2000/svg' width='80' height='40'><rect width='40' height='40' fill='#804020'/><rect x='40' width='40' height='40' fill='#20a0c0'/></svg>";
    let file = desk.data.path().join("scheme.svg");
    std::fs::write(&file, svg)?;
    let input = client
        .find(fantoccini::Locator::Css("input[aria-label='Picture file']"))
        .await?;
    input.send_keys(&file.to_string_lossy()).await?;
    let picture = client
        .wait()
        .for_element(fantoccini::Locator::Css("img[alt='Reference scheme.svg']"))
        .await?;
    let (x, y, w, h) = picture.rectangle().await?;
    press(client, x + 0.75 * w, y + 0.5 * h).await?;
    colour("#20a0c0").await?;
    press(client, x + 0.25 * w, y + 0.5 * h).await?;
    colour("#804020").await?;
    // After a reload picture and palette are still there, and the palette gives its colour back.
    job.open(client).await?;
    wait_for(client, "img[alt='Reference scheme.svg']", |_| true).await?;
    choose(client, "red").await?;
    click(client, "//button[@aria-label='red #3a5f7d']").await?;
    colour("#3a5f7d").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_view_turns_by_keys_and_is_kept() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.open(client).await?;
    let before = job.get("/edits").await?;
    let bench = client
        .find(fantoccini::Locator::Css("section[aria-label='Bench']"))
        .await?;
    let picture = async || -> Result<Vec<u8>> {
        tokio::time::sleep(Duration::from_millis(700)).await;
        Ok(client.screenshot().await?)
    };
    client
        .execute("arguments[0].focus()", vec![serde_json::to_value(&bench)?])
        .await?;
    let first = picture().await?;
    const RIGHT: char = '\u{e014}';
    const UP: char = '\u{e013}';
    const SHIFT: char = '\u{e008}';
    let mut last = first.clone();
    for keys in [
        vec![RIGHT],
        vec![UP],
        vec!['+'],
        vec!['-'],
        vec![SHIFT, RIGHT],
    ] {
        chord(client, &keys).await?;
        let now = picture().await?;
        assert_ne!(now, last, "{keys:?}");
        last = now;
    }
    click(client, "//button[@aria-label='View']").await?;
    click(
        client,
        "//*[@role='menuitem'][contains(., 'Keep this view')]",
    )
    .await?;
    look_from(client, "the back").await?;
    // Another visit: the view comes back on request.
    job.open(client).await?;
    click(client, "//button[@aria-label='View']").await?;
    click(
        client,
        "//*[@role='menuitem'][contains(., 'Go to the kept view')]",
    )
    .await?;
    let kept = job.get("/desk").await?;
    assert!(kept["view"]["eye"].is_array());
    // No key and no view is an edit: the model stands where it stood.
    assert_eq!(job.get("/edits").await?, before);
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_bench_is_saved_as_a_picture() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "my block.stl", block()).await?;
    job.open(client).await?;
    click(client, "//button[@aria-label='View']").await?;
    click(client, "//*[@role='menuitem'][.='Save a picture']").await?;
    let png = downloaded(&desk.browser.downloads(), "my-block.png").await?;
    // Twice as large as the bench, which takes up most of 1280 pixels; by the header of PNG (W3C PNG, 11.2.1).
    anyhow::ensure!(png.starts_with(b"\x89PNG"), "no PNG");
    let side = |at: usize| u32::from_be_bytes([png[at], png[at + 1], png[at + 2], png[at + 3]]);
    let (wide, high) = (side(16), side(20));
    anyhow::ensure!(wide > 1400 && high > 1000, "{wide} × {high}");
    // A picture of nothing but the ground would be packed into next to nothing.
    anyhow::ensure!(png.len() > 10_000, "{} bytes", png.len());
    Ok(())
}
