//! Parts by the real pointer and keyboard: made from regions, cut, filled, sunk, split, ordered; checked by volumes.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use varichrom_demo::{box_mesh, compass_coaster, stl, tide_plaque, together};
use varichrom_e2e::{
    BenchJob, Desk, MIDDLE, choose, choose_from, chord, click, drag, hover, look_from, press, tool,
    type_into, wait_for, wait_for_text,
};

const CONTROL: char = '\u{e009}';
const ALT: char = '\u{e00a}';
const DOWN: char = '\u{e015}';
/// A letter of the plaque, seen from above.
const LETTER: (f64, f64) = (471.0, 298.0);
const STATUS: &str = "[aria-label='Bench'] [role='status']";

/// Parts of a job by name, with their volumes, in the order of the list; all closed.
async fn volumes(job: &BenchJob<'_>) -> Result<Vec<(String, f64)>> {
    let view = job.get("").await?;
    let parts: Vec<&Value> = view["models"]
        .as_array()
        .context("models")?
        .iter()
        .filter_map(|m| m["parts"].as_array())
        .flatten()
        .collect();
    view["part_order"]
        .as_array()
        .context("an order")?
        .iter()
        .map(|key| {
            let part = parts.iter().find(|p| p["key"] == *key).context("a part")?;
            ensure!(part["closed"] == true, "{part}");
            let name = part["name"].as_str().context("a name")?;
            Ok((
                name.to_string(),
                part["volume_mm3"].as_f64().context("a volume")?,
            ))
        })
        .collect()
}

/// Waits until the parts have these volumes, mm³, in the order of the list.
async fn volumes_become(job: &BenchJob<'_>, wanted: &[f64]) -> Result<Vec<String>> {
    let start = Instant::now();
    loop {
        let found = volumes(job).await?;
        let near = |(a, b): (&(String, f64), &f64)| (a.1 - b).abs() < 1e-4 * b;
        if found.len() == wanted.len() && found.iter().zip(wanted).all(near) {
            return Ok(found.into_iter().map(|f| f.0).collect());
        }
        ensure!(
            start.elapsed() < Duration::from_secs(20),
            "{found:?} instead of {wanted:?}"
        );
        tokio::time::sleep(Duration::from_millis(60)).await;
    }
}

/// Waits until a second part is there.
async fn two_parts(job: &BenchJob<'_>) -> Result<()> {
    job.when("a second part", |j| {
        j["part_order"].as_array().is_some_and(|all| all.len() > 1)
    })
    .await?;
    Ok(())
}

fn block() -> Vec<u8> {
    stl(&box_mesh([0.0; 3], [40.0, 30.0, 20.0]), "block")
}

async fn undo(client: &Client) -> Result<()> {
    chord(client, &[CONTROL, 'z']).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_region_becomes_a_part_and_a_part_is_cut_in_two() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("lid", "#c7452f").await?;
    let top = json!({ "model": "block", "point": [20.0, 15.0, 20.0], "normal": [0.0, 0.0, 1.0] });
    let model = job.get("").await?["models"][0]["name"].clone();
    let mut top = top;
    top["model"] = model;
    job.edit(json!({ "edit": "give-patch", "region": "lid", "at": top, "crease_deg": 30 }))
        .await?;
    job.open(client).await?;
    choose(client, "lid").await?;
    look_from(client, "above").await?;
    // By keyboard into the other hand; hovering says what a click makes.
    chord(client, &['1']).await?;
    choose_from(client, "How deep", "To a typed depth").await?;
    type_into(client, "Depth of the part", "2").await?;
    hover(client, MIDDLE.0, MIDDLE.1).await?;
    wait_for_text(client, STATUS, "Makes lid").await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    // A lid mitred at 45°, and the rest.
    let lid = 2.0 / 6.0 * (1200.0 + 4.0 * 38.0 * 28.0 + 36.0 * 26.0);
    volumes_become(&job, &[lid, 24000.0 - lid]).await?;
    undo(client).await?;
    volumes_become(&job, &[24000.0]).await?;
    // Too deep: a sentence with the deepest that works, and nothing changes.
    type_into(client, "Depth of the part", "19").await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    wait_for_text(client, "[role='alert']", "The deepest that works here is").await?;
    volumes_become(&job, &[24000.0]).await?;
    choose_from(client, "How deep", "As deep as it goes").await?;
    press(client, MIDDLE.0 + 3.0, MIDDLE.1).await?;
    two_parts(&job).await?;
    undo(client).await?;
    volumes_become(&job, &[24000.0]).await?;
    // In two at a typed height.
    chord(client, &['2']).await?;
    type_into(client, "Height of the cut", "5").await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    volumes_become(&job, &[18000.0, 6000.0]).await?;
    undo(client).await?;
    // Through three points of the top: it misses, and says so.
    choose_from(client, "Where it is cut", "three points").await?;
    for (x, y) in [(-40.0, -30.0), (40.0, -30.0), (0.0, 30.0)] {
        press(client, MIDDLE.0 + x, MIDDLE.1 + y).await?;
    }
    wait_for_text(client, "[role='alert']", "misses").await?;
    volumes_become(&job, &[24000.0]).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn letters_are_inlaid_a_tile_is_sunk_and_shells_are_split() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "plaque.stl", stl(&tide_plaque(), "plaque")).await?;
    job.add("ink", "#16395c").await?;
    let plate = volumes(&job).await?[0].1;
    job.open(client).await?;
    choose(client, "ink").await?;
    look_from(client, "above").await?;
    tool(client, "Relief").await?;
    click(client, "//*[@role='radio'][.='Parts']").await?;
    tool(client, "Inlay").await?;
    click(client, "//label[contains(., 'All at this height')]").await?;
    hover(client, LETTER.0, LETTER.1).await?;
    wait_for_text(client, STATUS, "19 pieces").await?;
    wait_for_text(client, STATUS, "4 layers").await?;
    press(client, LETTER.0, LETTER.1).await?;
    two_parts(&job).await?;
    let made = volumes(&job).await?;
    assert_eq!((made[0].0.as_str(), made[1].1), ("ink inlay", plate));

    let tile = together(&[
        box_mesh([-20.0, -20.0, 0.0], [20.0, 20.0, 4.0]),
        box_mesh([-5.0, -5.0, 4.0], [5.0, 5.0, 5.5]),
    ]);
    let job = BenchJob::of(app, "tile.stl", stl(&tile, "tile")).await?;
    job.open(client).await?;
    look_from(client, "above").await?;
    chord(client, &['4']).await?;
    hover(client, MIDDLE.0, MIDDLE.1).await?;
    wait_for_text(client, STATUS, "Changes").await?;
    press(client, MIDDLE.0, MIDDLE.1).await?;
    volumes_become(&job, &[6400.0 - 150.0, 150.0]).await?;
    // The inlaid tile lies flush: the job is 4 mm tall.
    let view = job.get("").await?;
    assert!((view["size_mm"][2].as_f64().context("a height")? - 4.0).abs() < 1e-4);

    // Two of the list joined into one, and split again by a click.
    let posts = together(&[
        box_mesh([-12.0, -6.0, 0.0], [-2.0, 6.0, 8.0]),
        box_mesh([2.0, -6.0, 0.0], [14.0, 6.0, 8.0]),
    ]);
    let job = BenchJob::of(app, "posts.stl", stl(&posts, "posts")).await?;
    job.open(client).await?;
    look_from(client, "above").await?;
    let row = |n: usize| format!("//*[@aria-label='Parts']//*[@role='row'][{n}]");
    click(
        client,
        &format!("{}//span[contains(@title, 'Own region')]", row(1)),
    )
    .await?;
    let second = client.find(Locator::XPath(&row(2))).await?;
    client
        .execute("arguments[0].focus()", vec![serde_json::to_value(&second)?])
        .await?;
    chord(client, &[CONTROL, '\u{e007}']).await?;
    let more = format!("{}//button[starts-with(@aria-label, 'More')]", row(2));
    click(client, &more).await?;
    click(
        client,
        "//*[@role='menuitem'][contains(., 'Join the 2 chosen')]",
    )
    .await?;
    volumes_become(&job, &[960.0 + 1152.0]).await?;
    chord(client, &['5']).await?;
    press(client, MIDDLE.0 + 40.0, MIDDLE.1).await?;
    volumes_become(&job, &[960.0, 1152.0]).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn overlaps_change_owner_are_cut_and_the_list_is_ordered_grouped_and_locked() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "coaster.stl", stl(&compass_coaster(), "coaster")).await?;
    let names = async || -> Result<Vec<String>> {
        Ok(volumes(&job).await?.into_iter().map(|v| v.0).collect())
    };
    let before = names().await?;
    let disc = volumes(&job).await?[0].1;
    job.open(client).await?;
    click(client, "//*[@role='tab'][.='Overlaps']").await?;
    let overlaps = "[aria-label='Overlaps']";
    wait_for_text(
        client,
        overlaps,
        &format!("{} over {}", before[0], before[1]),
    )
    .await?;
    // Shown on the bench, then given to the ring, then cut out of the disc.
    click(client, "//*[@aria-label='Overlaps']//li[1]/button").await?;
    click(
        client,
        "//*[@aria-label='Overlaps']//li[1]//button[.='Switch owner']",
    )
    .await?;
    wait_for_text(
        client,
        overlaps,
        &format!("{} over {}", before[1], before[0]),
    )
    .await?;
    assert_eq!(names().await?[..2], [before[1].clone(), before[0].clone()]);
    let ring = format!(
        "//*[@aria-label='Overlaps']//li[contains(., '{} over')]//button[.='Cut it away']",
        before[1]
    );
    click(client, &ring).await?;
    // A ring of 144 sides, 38 to 41 mm, 1 mm deep.
    let sides = 144.0f64;
    let polygon = 0.5 * sides * (std::f64::consts::TAU / sides).sin();
    let shared = polygon * (41.0f64.powi(2) - 38.0f64.powi(2));
    let start = Instant::now();
    loop {
        let now = volumes(&job).await?;
        if (now[1].1 - (disc - shared)).abs() < 0.1 {
            break;
        }
        ensure!(
            start.elapsed() < Duration::from_secs(20),
            "{now:?}, {disc} − {shared}"
        );
        tokio::time::sleep(Duration::from_millis(60)).await;
    }

    // The list by keyboard: the first part goes one down.
    let first = client
        .find(Locator::XPath(
            "//*[@aria-label='Parts']//*[@role='row'][1]",
        ))
        .await?;
    client
        .execute("arguments[0].focus()", vec![serde_json::to_value(&first)?])
        .await?;
    let now = names().await?;
    chord(client, &[ALT, DOWN]).await?;
    let start = Instant::now();
    while names().await?[..2] != [now[1].clone(), now[0].clone()] {
        ensure!(
            start.elapsed() < Duration::from_secs(10),
            "{:?}",
            names().await?
        );
        tokio::time::sleep(Duration::from_millis(60)).await;
    }
    // Hidden parts are not clicked; locked ones are not cut.
    let third = names().await?[2].clone();
    click(client, &format!("//button[@aria-label='Hide {third}']")).await?;
    click(client, "//button[.='Unhide']").await?;
    let menu = async |part: &str, item: &str| -> Result<()> {
        click(
            client,
            &format!("//button[@aria-label='More for part {part}']"),
        )
        .await?;
        click(
            client,
            &format!("//*[@role='menuitem'][contains(., '{item}')]"),
        )
        .await
    };
    menu(&third, "Locked").await?;
    wait_for(client, "[aria-label='Locked']", |_| true).await?;
    let view = job.get("").await?;
    let parts = view["models"][0]["parts"].as_array().context("parts")?;
    let locked = parts
        .iter()
        .find(|p| p["name"] == third.as_str())
        .context("the part")?;
    assert_eq!(locked["is_locked"], true);
    menu(&before[0], "Leave out of the print").await?;
    wait_for(client, "[aria-label='Left out of the print']", |_| true).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_depth_is_chosen_by_what_it_costs() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = BenchJob::of(app, "block.stl", block()).await?;
    job.add("lid", "#f4f4f0").await?;
    let model = job.get("").await?["models"][0]["name"].clone();
    let top = json!({ "model": model, "point": [20.0, 15.0, 20.0], "normal": [0.0, 0.0, 1.0] });
    job.edit(json!({ "edit": "give-patch", "region": "lid", "at": top, "crease_deg": 30 }))
        .await?;
    job.open(client).await?;
    choose(client, "lid").await?;
    click(client, "//*[@role='tab'][.='Depth']").await?;
    wait_for_text(client, "[aria-label='Depth']", "nothing shines through").await?;
    click(client, "//tr[starts-with(@aria-label, '2 layers')]").await?;
    let start = Instant::now();
    loop {
        let view = job.get("").await?;
        let regions = view["regions"].as_array().context("regions")?;
        let lid = regions
            .iter()
            .find(|r| r["key"] == "lid")
            .context("the lid")?;
        if lid["depth"]["mm"] == 0.4 {
            break;
        }
        ensure!(start.elapsed() < Duration::from_secs(10), "{lid}");
        tokio::time::sleep(Duration::from_millis(60)).await;
    }
    wait_for(client, "tr[aria-current='true']", |t| t.starts_with('2')).await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

/// The middle of an element, in the page.
async fn middle_of(client: &Client, xpath: &str) -> Result<(f64, f64)> {
    let element = client.find(Locator::XPath(xpath)).await?;
    let (x, y, width, height) = element.rectangle().await?;
    Ok((x + 0.5 * width, y + 0.5 * height))
}

#[tokio::test(flavor = "multi_thread")]
async fn parts_are_dragged_in_the_list_grouped_tidied_and_inlaid_with_a_gap() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let set = together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([12.0, 0.0, 0.0], [24.0, 10.0, 10.0]),
        box_mesh([26.0, 0.0, 0.0], [26.5, 0.5, 0.5]),
        box_mesh([30.0, 0.0, 0.0], [44.0, 10.0, 10.0]),
    ]);
    let job = BenchJob::of(app, "set.stl", stl(&set, "set")).await?;
    job.open(client).await?;
    let before = volumes_become(&job, &[1000.0, 1200.0, 0.125, 1400.0]).await?;
    let row = |n: usize| format!("(//*[@aria-label='Parts']//*[@role='row'])[{n}]");
    // The first is dragged below the last: the list says who owns what from now on.
    let from = middle_of(client, &format!("{}/span[1]", row(1))).await?;
    let last = client.find(Locator::XPath(&row(4))).await?;
    let (x, y, _, height) = last.rectangle().await?;
    drag(client, from, (x + 30.0, y + 0.8 * height)).await?;
    let order = volumes_become(&job, &[1200.0, 0.125, 1400.0, 1000.0]).await?;
    assert_eq!(order.last(), before.first());
    let can_undo = "//button[.='Undo'][not(@disabled)]";
    client.wait().for_element(Locator::XPath(can_undo)).await?;
    undo(client).await?;
    volumes_become(&job, &[1000.0, 1200.0, 0.125, 1400.0]).await?;
    let first = format!("{}[.//*[@aria-label='Name of part {}']]", row(1), before[0]);
    client.wait().for_element(Locator::XPath(&first)).await?;
    // The first two in a group, which can be chosen and taken apart again.
    click(client, &format!("{}/span[1]", row(1))).await?;
    let second = client.find(Locator::XPath(&row(2))).await?;
    client
        .execute("arguments[0].focus()", vec![serde_json::to_value(&second)?])
        .await?;
    chord(client, &[CONTROL, '\u{e007}']).await?;
    let more = |n: usize| format!("{}//button[starts-with(@aria-label, 'More')]", row(n));
    let item = |text: &str| format!("//*[@role='menuitem'][contains(., '{text}')]");
    click(client, &more(2)).await?;
    click(client, &item("Group the 2 chosen")).await?;
    wait_for(client, "input[aria-label='Name of group Group 1']", |_| {
        true
    })
    .await?;
    assert_eq!(
        job.get("").await?["groups"]
            .as_array()
            .context("groups")?
            .len(),
        1
    );
    click(client, "//button[@aria-label='Ungroup Group 1']").await?;
    // What is smaller than a crumb says so, and is dropped by the menu.
    wait_for_text(client, "[aria-label='Parts']", "crumb").await?;
    click(client, &more(1)).await?;
    click(client, &item("Drop 1 under")).await?;
    volumes_become(&job, &[1000.0, 1200.0, 1400.0]).await?;

    // Letters with a gap are thinner by it: less volume than without, and the pocket stays.
    let job = BenchJob::of(app, "plaque.stl", stl(&tide_plaque(), "plaque")).await?;
    job.add("ink", "#16395c").await?;
    let plate = volumes(&job).await?[0].1;
    job.open(client).await?;
    choose(client, "ink").await?;
    look_from(client, "above").await?;
    chord(client, &['x']).await?;
    chord(client, &['3']).await?;
    click(client, "//label[contains(., 'All at this height')]").await?;
    let mut filled = Vec::new();
    for gap in ["0", "0.1"] {
        type_into(client, "Gap around the inlay", gap).await?;
        press(client, LETTER.0, LETTER.1).await?;
        two_parts(&job).await?;
        let made = volumes(&job).await?;
        assert_eq!(made[1].1, plate);
        filled.push(made[0].1);
        undo(client).await?;
        volumes_become(&job, &[plate]).await?;
    }
    // Strokes of a letter are 2 mm wide at most: 0.1 mm on both sides is a tenth of them or more.
    assert!(
        filled[1] < 0.9 * filled[0] && filled[1] > 0.5 * filled[0],
        "{filled:?}"
    );
    desk.browser.client.clone().close().await?;
    Ok(())
}
