//! Every tool of Colour by the real pointer and keyboard, with areas checked through the API.

use anyhow::{Context, Result};
use serde_json::{Value, json};
use std::f64::consts::PI;
use varichrom_demo::{box_mesh, stl, tide_plaque};
use varichrom_e2e::{
    BenchJob, Desk, MIDDLE, choose, chord, click, draw, hover, look_from, press, tool, type_into,
    wait_for, wait_for_text,
};

const CONTROL: char = '\u{e009}';
const ENTER: char = '\u{e007}';
const STATUS: &str = "[aria-label='Bench'] [role='status']";

fn near(wanted: f64, slack: f64) -> impl Fn(f64) -> bool {
    move |area| (area - wanted).abs() <= slack
}

/// A block of 40 × 30 × 20 mm: twelve facets.
fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block")
}

fn numbers(value: &Value) -> Vec<f64> {
    let list = value.as_array().map(Vec::as_slice).unwrap_or_default();
    list.iter().filter_map(Value::as_f64).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn patch_part_dab_dip_facet_and_erase_take_what_they_say() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("red", "#c7452f").await?;
    job.open(client).await?;
    choose(client, "red").await?;
    look_from(client, "above").await?;

    tool(client, "Patch").await?;
    hover(client, MIDDLE.0, MIDDLE.1).await?;
    wait_for_text(client, STATUS, "2 facets").await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    job.area_when("red", near(1200.0, 1e-6)).await?;

    // Erase by key, then the same click: back to the part.
    chord(client, &['e']).await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;
    chord(client, &['e']).await?;

    // A dab in the middle of two huge triangles is a disc.
    chord(client, &['d']).await?;
    type_into(client, "Radius in mm", "3").await?;
    hover(client, MIDDLE.0, MIDDLE.1).await?;
    wait_for_text(client, STATUS, "at 20.00 mm").await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    let disc = job.area_when("red", |a| a > 1.0).await?;
    assert!(near(9.0 * PI, 0.05 * 6.0 * PI)(disc), "{disc}");
    // A stroke goes with the pointer; its path is in the edit.
    draw(
        client,
        &[
            MIDDLE,
            (MIDDLE.0 + 40.0, MIDDLE.1),
            (MIDDLE.0 + 80.0, MIDDLE.1),
        ],
    )
    .await?;
    let stroke = job.area_when("red", |a| a > disc + 5.0).await?;
    let path = job.last_edit().await?["stroke"]["path"].clone();
    let ends = [0, path.as_array().context("a path")?.len() - 1].map(|i| numbers(&path[i]));
    let length = (ends[1][0] - ends[0][0]).hypot(ends[1][1] - ends[0][1]);
    let capsule = 9.0 * PI + 6.0 * length;
    assert!(near(capsule, 0.03 * capsule)(stroke), "{stroke} {capsule}");
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(disc, 1e-9)).await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;

    // A dip at the rim goes around it; a dab does not.
    look_from(client, "the front").await?;
    chord(client, &['i']).await?;
    hover(client, MIDDLE.0, MIDDLE.1).await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    let dip = job.area_when("red", |a| a > 1.0).await?;
    assert!(near(9.0 * PI, 0.05 * 6.0 * PI)(dip), "{dip}");
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;

    // One facet of the front, then the whole flat face by the option.
    chord(client, &['t']).await?;
    press(client, MIDDLE.0 + 20.0, MIDDLE.1).await?;
    job.area_when("red", near(400.0, 1e-6)).await?;
    click(client, "//label[contains(., 'flat face')]").await?;
    hover(client, MIDDLE.0 - 20.0, MIDDLE.1 + 5.0).await?;
    wait_for_text(client, STATUS, "to red").await?;
    press(client, MIDDLE.0 - 20.0, MIDDLE.1 + 5.0).await?;
    job.area_when("red", near(800.0, 1e-6)).await?;

    chord(client, &['w']).await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    job.area_when("red", near(5200.0, 1e-6)).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn bands_are_typed_dragged_snapped_and_stacked() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("red", "#c7452f").await?;
    job.open(client).await?;
    choose(client, "red").await?;
    look_from(client, "the front").await?;
    chord(client, &['b']).await?;
    // Typed: 140 mm around the block for each mm of height. The layers are 0.2 mm.
    type_into(client, "Lower height", "3.07").await?;
    type_into(client, "Upper height", "5.13").await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    job.area_when("red", near(140.0 * 2.2, 1e-6)).await?;
    click(client, "//label[contains(., 'Snap to layers')]").await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    job.area_when("red", near(140.0 * 2.06, 1e-6)).await?;
    chord(client, &[CONTROL, 'z']).await?;
    // Three of them, 5 mm apart.
    type_into(client, "Number of bands", "3").await?;
    type_into(client, "Pitch of bands", "5").await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    job.area_when("red", near(3.0 * 140.0 * 2.06, 1e-6)).await?;
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;
    // Dragged from one height to another: what the edit says is what is taken.
    draw(
        client,
        &[
            MIDDLE,
            (MIDDLE.0, MIDDLE.1 - 30.0),
            (MIDDLE.0, MIDDLE.1 - 60.0),
        ],
    )
    .await?;
    let dragged = job.area_when("red", |a| a > 1.0).await?;
    let edit = job.last_edit().await?;
    let height =
        edit["high_mm"].as_f64().context("high")? - edit["low_mm"].as_f64().context("low")?;
    assert!(height > 1.0, "{edit}");
    assert!(near(140.0 * height, 1e-3)(dragged), "{dragged} {height}");
    // A band that misses the model is refused in words.
    type_into(client, "Lower height", "50").await?;
    type_into(client, "Upper height", "60").await?;
    type_into(client, "Number of bands", "1").await?;
    click(client, "//*[@role='toolbar']//button[.='Give']").await?;
    wait_for_text(client, "[role='alert']", "misses the model").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

/// Area of an outline as seen on a plane at a depth before the eye.
fn seen_area(edit: &Value, top: f64) -> f64 {
    let points: Vec<Vec<f64>> = edit["outline"]
        .as_array()
        .map(|o| o.iter().map(numbers).collect())
        .unwrap_or_default();
    let n = points.len();
    let twice: f64 = (0..n)
        .map(|i| {
            let (a, b) = (&points[i], &points[(i + 1) % n]);
            a[0] * b[1] - a[1] * b[0]
        })
        .sum();
    let depth = numbers(&edit["sight"]["eye"])[2] - top;
    0.5 * twice.abs() * depth * depth
}

#[tokio::test(flavor = "multi_thread")]
async fn a_lasso_is_drawn_freely_and_corner_by_corner() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("red", "#c7452f").await?;
    job.open(client).await?;
    choose(client, "red").await?;
    look_from(client, "above").await?;
    chord(client, &['l']).await?;
    let ring: Vec<(f64, f64)> = (0..28)
        .map(|i| 2.0 * PI * f64::from(i) / 30.0)
        .map(|a| (MIDDLE.0 + 70.0 * a.cos(), MIDDLE.1 + 50.0 * a.sin()))
        .collect();
    draw(client, &ring).await?;
    let free = job.area_when("red", |a| a > 1.0).await?;
    let wanted = seen_area(&job.last_edit().await?, 20.0);
    assert!(near(wanted, 0.02 * wanted)(free), "{free} {wanted}");
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;

    click(client, "//label[contains(., 'Straight edges')]").await?;
    for (x, y) in [(-60.0, -40.0), (60.0, -40.0), (60.0, 40.0), (-60.0, 40.0)] {
        press(client, MIDDLE.0 + x, MIDDLE.1 + y).await?;
    }
    chord(client, &[ENTER]).await?;
    let straight = job.area_when("red", |a| a > 1.0).await?;
    let wanted = seen_area(&job.last_edit().await?, 20.0);
    assert!(near(wanted, 0.01 * wanted)(straight), "{straight} {wanted}");
    // Right through: the underside too, which is further away and so larger in the same outline.
    chord(client, &[CONTROL, 'z']).await?;
    job.area_when("red", near(0.0, 1e-9)).await?;
    click(client, "//label[contains(., 'Right through')]").await?;
    for (x, y) in [(-30.0, -20.0), (30.0, -20.0), (30.0, 20.0), (-30.0, 20.0)] {
        press(client, MIDDLE.0 + x, MIDDLE.1 + y).await?;
    }
    chord(client, &[ENTER]).await?;
    let through = job.area_when("red", |a| a > 1.0).await?;
    let edit = job.last_edit().await?;
    let wanted = seen_area(&edit, 20.0) + seen_area(&edit, 0.0);
    assert!(near(wanted, 0.01 * wanted)(through), "{through} {wanted}");
    // A bow tie is refused, and nothing changes.
    for (x, y) in [(-60.0, -40.0), (60.0, 40.0), (60.0, -40.0), (-60.0, 40.0)] {
        press(client, MIDDLE.0 + x, MIDDLE.1 + y).await?;
    }
    chord(client, &[ENTER]).await?;
    wait_for_text(client, "[role='alert']", "crosses itself").await?;
    assert_eq!(job.area("red").await?, through);
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn relief_takes_all_letters_in_one_click() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "plaque.stl", stl(&tide_plaque(), "plaque")).await?;
    job.add("letters", "#eee7d6").await?;
    job.open(client).await?;
    choose(client, "letters").await?;
    look_from(client, "above").await?;
    // Where the first stroke of the upper line is: the dab says at which height the pointer is.
    chord(client, &['d']).await?;
    let mut found = None;
    for step in 0..120 {
        let at = (MIDDLE.0 - 200.0 + 2.0 * f64::from(step), MIDDLE.1 - 22.0);
        hover(client, at.0, at.1).await?;
        let text = wait_for(client, STATUS, |t| !t.is_empty()).await?;
        if text.contains("at 3.20 mm") {
            found = Some(at);
            break;
        }
    }
    let at = found.context("no letter under the pointer")?;
    chord(client, &['r']).await?;
    hover(client, at.0 - 1.0, at.1).await?;
    wait_for_text(client, STATUS, "mm²").await?;
    press(client, at.0, at.1).await?;
    let one = job.area_when("letters", |a| a > 1.0).await?;
    assert!(one < 150.0, "{one}");
    click(client, "//label[contains(., 'all at this height')]").await?;
    press(client, at.0, at.1).await?;
    let all = job.area_when("letters", |a| a > 2.0 * one).await?;
    // The same edit on the same mesh, asked of the core: floors and walls of nineteen letters.
    let preview = job.get("/strays?smaller=0.5&narrower=0").await?;
    assert_eq!(preview, json!([]), "letters left out: {all}");
    let edit = job.last_edit().await?;
    assert_eq!(
        (&edit["edit"], &edit["all"]),
        (&json!("give-relief"), &json!(true))
    );
    desk.browser.client.clone().close().await?;
    Ok(())
}
