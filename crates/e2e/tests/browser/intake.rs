//! Intake by hand: files of every format dropped on the page, sets, odd units, broken files, placing.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::json;
use std::time::Duration;
use varichrom_demo::{
    PlyKind, box_mesh, obj, ply, stl, subdivided_sphere, threemf, together, vrml,
};
use varichrom_e2e::{App, BenchJob, Desk, chord, drag, hover, press, wait_for, wait_for_text};

const MODELS: &str = "[aria-label='Models']";
const CARD: &str = "article";
const SIZE: &str = "article [aria-label='Size']";
const DIALOG: &str = "[role='dialog']";
const ENTER: char = '\u{e007}';
const RIGHT: char = '\u{e014}';
const UP: char = '\u{e013}';

/// Drops files on the page as a file manager would.
async fn drop_files(client: &Client, files: &[(&str, Vec<u8>)]) -> Result<()> {
    let sent: Vec<_> = files
        .iter()
        .map(|(name, bytes)| json!({ "name": name, "bytes": bytes }))
        .collect();
    let js = "const carried = new DataTransfer();
        for (const f of arguments[0]) carried.items.add(new File([new Uint8Array(f.bytes)], f.name));
        const onto = document.querySelector('main, aside');
        for (const type of ['dragenter', 'dragover', 'drop'])
            onto.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: carried }));";
    client.execute(js, vec![json!(sent)]).await?;
    Ok(())
}

async fn click(client: &Client, xpath: &str) -> Result<()> {
    let element = client.wait().for_element(Locator::XPath(xpath)).await;
    Ok(element.with_context(|| xpath.to_string())?.click().await?)
}

/// Types over a field and presses Enter.
async fn type_in(client: &Client, label: &str, text: &str) -> Result<()> {
    let css = format!("input[aria-label='{label}']");
    let field = client.wait().for_element(Locator::Css(&css)).await?;
    // A click chooses all that is there; typing replaces it.
    field.click().await?;
    field.send_keys(text).await?;
    chord(client, &[ENTER]).await
}

async fn shelf(client: &Client, app: &App) -> Result<()> {
    client.goto(&app.url).await?;
    wait_for_text(client, "main", "Shelf").await?;
    Ok(())
}

const PAINTED: &str = "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n\
    element face 4\nproperty list uchar int vertex_indices\nproperty uchar red\nproperty uchar green\nproperty uchar blue\n\
    end_header\n0 0 0\n30 0 0\n0 30 0\n0 0 30\n3 0 2 1 200 40 30\n3 0 1 3 200 40 30\n3 1 2 3 30 60 120\n3 2 0 3 30 60 120\n";

#[tokio::test(flavor = "multi_thread")]
async fn a_file_of_each_format_is_dropped_and_told_by_its_content() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let block = box_mesh([0.0; 3], [12.0, 24.0, 36.0]);
    let files: [(&str, Vec<u8>, &str, &str); 6] = [
        ("block.stl", stl(&block, "block"), "STL, binary", "assumed"),
        // The ending lies; the content counts.
        ("block.txt", obj(&block, "block"), "OBJ", "assumed"),
        (
            "block.ply",
            ply(&block, PlyKind::Big),
            "PLY, binary, big-endian",
            "assumed",
        ),
        (
            "block.3mf",
            threemf(&block, "block", "millimeter"),
            "3MF",
            "stated",
        ),
        ("block.wrl", vrml(&block, "block"), "VRML97", "assumed"),
        (
            "block2.ply",
            ply(&block, PlyKind::Text),
            "PLY, text",
            "assumed",
        ),
    ];
    for (name, bytes, format, units) in files {
        shelf(client, app).await?;
        drop_files(client, &[(name, bytes)]).await?;
        let card = wait_for_text(client, CARD, format).await?;
        assert!(card.contains("12.0 × 24.0 × 36.0 mm"), "{name}: {card}");
        assert!(
            card.contains(units) && card.contains("✓ None found"),
            "{name}: {card}"
        );
    }
    // Colours come along as regions, and nobody picks them again.
    shelf(client, app).await?;
    drop_files(client, &[("tent.ply", PAINTED.as_bytes().to_vec())]).await?;
    wait_for_text(client, CARD, "2 colours").await?;
    click(client, "//button[.='Colour it']").await?;
    let regions = wait_for(client, "[aria-label='Colour regions']", |_| true).await?;
    assert_eq!(regions.matches('%').count(), 2, "{regions}");
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn three_files_keep_the_coordinates_they_share_or_stand_apart() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let files = || -> Vec<(&str, Vec<u8>)> {
        vec![
            (
                "plate.stl",
                stl(&box_mesh([0.0; 3], [80.0, 50.0, 4.0]), "plate"),
            ),
            (
                "boss.obj",
                obj(&box_mesh([10.0, 10.0, 4.0], [30.0, 30.0, 9.0]), "Boss"),
            ),
            (
                "pin.ply",
                ply(
                    &box_mesh([50.0, 20.0, 4.0], [60.0, 30.0, 24.0]),
                    PlyKind::Little,
                ),
            ),
        ]
    };
    shelf(client, app).await?;
    drop_files(client, &files()).await?;
    wait_for_text(client, DIALOG, "How do these belong together?").await?;
    let pictures = client
        .find_all(Locator::Css("[role='dialog'] svg[role='img']"))
        .await?;
    assert_eq!(pictures.len(), 2);
    click(client, "//button[contains(., 'One thing')]").await?;
    let tree = wait_for_text(client, MODELS, "Everything").await?;
    assert!(
        tree.contains("80.0 × 50.0 × 24.0") && tree.contains("boss.obj"),
        "{tree}"
    );

    // Raise the boss by a typed height, and put it back on its modelled origin.
    click(client, "//button[.//span[.='Boss']]").await?;
    click(client, "//*[@aria-label='Placing']//button[.='Move']").await?;
    type_in(client, "Step", "1in").await?;
    click(client, "//button[@aria-label='Up by a step']").await?;
    wait_for_text(client, MODELS, "80.0 × 50.0 × 34.4").await?;
    click(client, "//button[.='Put back']").await?;
    wait_for_text(client, MODELS, "80.0 × 50.0 × 24.0").await?;

    // All three can be coloured: the plan knows them as three parts.
    click(client, "//button[.='Colour it']").await?;
    let boss = "input[aria-label='Name of part Boss']";
    client.wait().for_element(Locator::Css(boss)).await?;
    wait_for_text(client, "[role='toolbar']", "18 patches").await?;

    shelf(client, app).await?;
    drop_files(client, &files()).await?;
    click(client, "//button[contains(., 'Separate models')]").await?;
    // 80 + 20 + 10 mm and two gaps of 8.
    wait_for_text(client, MODELS, "126.0 × 50.0 × 20.0").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn an_inch_model_gets_its_size_in_one_click_and_no_key_moves_it() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    shelf(client, app).await?;
    let knob = box_mesh([0.0; 3], [1.5, 1.0, 0.5]);
    drop_files(client, &[("knob.stl", stl(&knob, "knob"))]).await?;
    wait_for_text(client, CARD, "Less than 2 mm across").await?;
    click(client, "//button[contains(., 'Read it in inches')]").await?;
    wait_for_text(client, SIZE, "38.1 × 25.4 × 12.7 mm").await?;
    // The figures of the file stay on the card.
    wait_for_text(client, CARD, "1.50 × 1.00 × 0.50").await?;

    // A typed size takes units, and undo takes it back.
    click(client, "//*[@aria-label='Placing']//button[.='Size']").await?;
    type_in(client, "Size along X", "3in").await?;
    wait_for_text(client, SIZE, "76.2 × 50.8 × 25.4 mm").await?;
    click(client, "//button[.='Undo']").await?;
    wait_for_text(client, SIZE, "38.1 × 25.4 × 12.7 mm").await?;

    // Lay the largest side face down by pointing at it on the bench: 25.4 mm becomes the height.
    click(client, "//*[@aria-label='Placing']//button[.='Face down']").await?;
    wait_for_text(client, "[aria-label='What a click does']", "lie on the bed").await?;
    tokio::time::sleep(Duration::from_millis(900)).await;
    hover(client, 800.0, 440.0).await?;
    press(client, 800.0, 440.0).await?;
    wait_for_text(client, SIZE, "38.1 × 12.7 × 25.4 mm").await?;
    for key in [RIGHT, UP, 'x', 'm'] {
        chord(client, &[key]).await?;
    }
    tokio::time::sleep(Duration::from_millis(300)).await;
    wait_for_text(client, SIZE, "38.1 × 12.7 × 25.4 mm").await?;
    let undo = client.find(Locator::XPath("//button[.='Undo']")).await?;
    undo.click().await?;
    // One undo is enough: the keys made no edits.
    wait_for_text(client, SIZE, "38.1 × 25.4 × 12.7 mm").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_broken_file_is_refused_and_a_holed_one_is_mended() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    shelf(client, app).await?;
    let whole = stl(&box_mesh([0.0; 3], [20.0; 3]), "x");
    drop_files(client, &[("half.stl", whole[..400].to_vec())]).await?;
    let said = wait_for_text(client, DIALOG, "Nothing could be opened").await?;
    assert!(
        said.contains("cut short") && said.contains("after facet 6"),
        "{said}"
    );
    click(client, "//button[.='Close']").await?;
    wait_for_text(client, "main", "Nothing on the shelf yet").await?;

    let mut ball = subdivided_sphere(15.0, 4);
    ball.facets.drain(100..103);
    let mut inner = box_mesh([40.0, 0.0, 0.0], [50.0, 10.0, 10.0]);
    inner.facets[4].swap(1, 2);
    drop_files(client, &[("ball.stl", stl(&together(&[ball, inner]), "x"))]).await?;
    let defects = wait_for_text(client, "[aria-label='Defects']", "open edges").await?;
    assert!(defects.contains("turned edges"), "{defects}");
    click(client, "//button[@aria-label='Show open edges']").await?;
    wait_for_text(client, "[aria-label='Places of open edges']", "1 of 1").await?;
    click(client, "//button[.='Mend']").await?;
    let preview = wait_for_text(
        client,
        "[aria-label='What mending would do']",
        "close 3 holes",
    )
    .await?;
    assert!(
        preview.contains("turn 1 facet") && preview.contains("Nothing wrong afterwards"),
        "{preview}"
    );
    click(client, "//button[.='Mend it']").await?;
    wait_for_text(client, "[aria-label='Defects']", "None found").await?;
    wait_for_text(client, CARD, "✓ yes").await?;
    click(client, "//button[.='Undo']").await?;
    wait_for_text(client, "[aria-label='Defects']", "open edges").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_version_replaces_a_model_and_lost_edits_are_listed() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    shelf(client, app).await?;
    let two = together(&[
        box_mesh([0.0; 3], [20.0, 20.0, 10.0]),
        box_mesh([30.0, 0.0, 0.0], [40.0, 10.0, 10.0]),
    ]);
    drop_files(client, &[("mug.stl", stl(&two, "mug"))]).await?;
    wait_for_text(client, CARD, "2 separate parts").await?;
    // Name the second part, so that there is an edit the new version has no place for.
    click(client, "//button[@aria-label='Parts of Mug']").await?;
    click(client, "//button[.//span[.='Mug 2']]").await?;
    type_in(client, "Name of the part", "Handle").await?;
    wait_for_text(client, MODELS, "Handle").await?;
    click(client, "//button[.//span[.='Mug']]").await?;
    let file = desk.data.path().join("mug-2.obj");
    std::fs::write(&file, obj(&box_mesh([0.0; 3], [20.0, 20.0, 14.0]), "mug"))?;
    let picker = client
        .wait()
        .for_element(Locator::Css("input[aria-label='New version']"))
        .await?;
    picker.send_keys(&file.to_string_lossy()).await?;
    let lost = wait_for_text(
        client,
        "[aria-label='Lost edits']",
        "One edit found no place",
    )
    .await?;
    assert!(
        lost.contains("Name a part Handle") && lost.contains("at 3"),
        "{lost}"
    );
    wait_for_text(client, SIZE, "20.0 × 20.0 × 14.0 mm").await?;
    wait_for_text(client, MODELS, "mug-2.obj").await?;
    click(client, "//button[.='Undo']").await?;
    wait_for_text(client, MODELS, "mug.stl · 2 parts").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn pieces_fill_the_bed_and_share_the_swaps() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    shelf(client, app).await?;
    drop_files(client, &[("tent.ply", PAINTED.as_bytes().to_vec())]).await?;
    wait_for_text(client, CARD, "2 colours").await?;
    click(client, "//*[@aria-label='Placing']//button[.='Pieces']").await?;
    type_in(client, "Gap", "4").await?;
    // 30 mm and a gap of 4 go into 220 mm six times: 6 · 30 + 5 · 4 = 200, and a seventh would need 234.
    click(client, "//button[contains(., 'Fill the bed')]").await?;
    wait_for_text(
        client,
        "[aria-label='Placing']",
        "36 pieces share every swap",
    )
    .await?;
    click(client, "//button[.='Just one']").await?;
    wait_for_text(client, "[aria-label='Placing']", "Pieces printed at once").await?;
    type_in(client, "Pieces across", "9").await?;
    wait_for_text(client, "[aria-label='Placing']", "The bed holds 6 × 6").await?;
    desk.browser.client.clone().close().await?;
    Ok(())
}

/// More of one model beside the others, and one of them taken elsewhere on the bed by hand.
#[tokio::test(flavor = "multi_thread")]
async fn copies_of_a_model_stand_free_and_are_dragged_on_the_map_of_the_bed() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let peg = stl(&box_mesh([0.0; 3], [20.0, 20.0, 8.0]), "peg");
    let job = BenchJob::of(app, "peg.stl", peg).await?;
    client
        .goto(&format!("{}/jobs/{}/intake", app.url, job.id))
        .await?;
    click(client, "//*[@aria-label='Placing']//button[.='Pieces']").await?;
    type_in(client, "More of the model", "2").await?;
    click(client, "//button[contains(., 'more of')]").await?;
    let view = job
        .when("three pegs", |j| {
            j["models"].as_array().is_some_and(|m| m.len() == 3)
        })
        .await?;
    let low = |view: &serde_json::Value, n: usize| {
        let at = |i: usize| view["models"][n]["low_mm"][i].as_f64().unwrap_or(f64::NAN);
        [at(0), at(1)]
    };
    let apart = |a: [f64; 2], b: [f64; 2]| (0..2).any(|i| (a[i] - b[i]).abs() >= 20.0 - 1e-6);
    ensure!(apart(low(&view, 0), low(&view, 1)) && apart(low(&view, 1), low(&view, 2)));
    click(client, "//*[@aria-label='Placing']//button[.='Move']").await?;
    let map = Locator::Css("[aria-label='The bed from above'] rect[data-model$=' 3']");
    let rect = client.wait().for_element(map).await?;
    let (x, y, width, height) = rect.rectangle().await?;
    let from = (x + width / 2.0, y + height / 2.0);
    let before = low(&view, 2);
    // 84 pixels are the 220 mm of the bed.
    drag(client, from, (from.0 + 21.0, from.1 - 10.5)).await?;
    job.when("peg 3 moved", |j| {
        let now = low(j, 2);
        (now[0] - before[0] - 55.0).abs() < 3.0 && (now[1] - before[1] - 27.5).abs() < 3.0
    })
    .await?;
    Ok(())
}
