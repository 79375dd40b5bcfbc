//! What a plan is told, by the real pointer and keyboard: rules of the order, places that a machine holds, where purge goes,
//! rinses and a print that were measured.

use crate::plan_block::{BILL, bill, block, open, tab};
use anyhow::{Context, Result, ensure};
use fantoccini::Locator;
use varichrom_e2e::{Desk, choose_from, click, type_into, wait_for};

#[tokio::test(flavor = "multi_thread")]
async fn rules_are_asked_for_refused_when_they_contradict_and_taken_away() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Order").await?;
    let least = bill(&job).await?["purge_g"].as_f64();
    let asked = "[aria-label='Asked of the order']";
    choose_from(client, "Rule", "A slot first").await?;
    choose_from(client, "Slot", "Soot").await?;
    click(client, "//button[.='Ask for it']").await?;
    wait_for(client, asked, |t| t.contains("Soot black always first")).await?;
    let plan = job.plan().await?;
    let layers = plan["layers"].as_array().context("layers")?.iter();
    let of_soot: Vec<_> = layers
        .filter_map(|l| l["order"].as_array())
        .filter(|o| o.iter().any(|slot| slot == 3))
        .collect();
    ensure!(
        !of_soot.is_empty() && of_soot.iter().all(|o| o[0] == 3),
        "{of_soot:?}"
    );
    ensure!(bill(&job).await?["purge_g"].as_f64() >= least, "rules cost");
    // The same slot last as well: no order does that, the plan that worked stays on show.
    choose_from(client, "Rule", "A slot last").await?;
    click(client, "//button[.='Ask for it']").await?;
    let told = wait_for(client, "body", |t| t.contains("cannot all be kept")).await?;
    ensure!(
        told.contains("slot 3 always goes first")
            && told.contains("What is shown is the last plan"),
        "{told}"
    );
    wait_for(client, BILL, |t| t.contains("Wasted")).await?;
    click(
        client,
        "//li[contains(., 'always last')]//button[.='Take away']",
    )
    .await?;
    wait_for(client, "body", |t| !t.contains("cannot all be kept")).await?;
    // Fewest swaps: told with what it is worth.
    choose_from(client, "Order for", "the fewest swaps").await?;
    job.when("the aim", |j| j["rules"]["aim"]["is"] == "swaps")
        .await?;
    let swaps = bill(&job).await?["swaps"].as_u64().context("swaps")?;
    wait_for(client, "[aria-label='What the order is worth']", |t| {
        t.lines()
            .next()
            .is_some_and(|l| l.ends_with(&swaps.to_string()))
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_machine_that_holds_two_of_three_spools_is_reloaded_by_hand() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Order").await?;
    type_into(client, "Spools held at a time", "2").await?;
    job.when("two places", |j| j["printer"]["holds"] == 2)
        .await?;
    // Chalk and soot up to the line and past it, then the lid: one spool goes in by hand.
    let reloads = "[aria-label='Reloads']";
    wait_for(client, reloads, |t| {
        t.contains("1 reload by hand: no plan has fewer") && t.contains("Rust-red in")
    })
    .await?;
    let plan = job.plan().await?;
    ensure!(
        plan["reloads"].as_array().is_some_and(|r| r.len() == 1),
        "{plan}"
    );
    // Its row goes to its layer.
    let layer = plan["reloads"][0]["layer"].as_u64().context("a layer")? + 1;
    click(client, "//section[@aria-label='Reloads']//li//button").await?;
    wait_for(client, "[aria-label='Layer']", |t| {
        t.contains(&format!("Layer {layer},"))
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn purge_goes_where_it_is_sent() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Purge").await?;
    let goes = "[aria-label='Where it goes']";
    wait_for(client, goes, |t| {
        t.contains("Into the tower") && !t.contains("bin")
    })
    .await?;
    type_into(client, "Share into the tower", "40").await?;
    wait_for(client, goes, |t| t.contains("Into the bin")).await?;
    let split = |plan: &serde_json::Value, what: &str| -> f64 {
        let swaps = plan["swaps"].as_array().map_or(&[][..], |s| s);
        swaps.iter().filter_map(|s| s["split"][what].as_f64()).sum()
    };
    let plan = job.plan().await?;
    let (tower, bin) = (split(&plan, "tower_mm3"), split(&plan, "bin_mm3"));
    ensure!(
        (tower - 0.4 * (tower + bin)).abs() < 1e-6 * tower,
        "{tower} {bin}"
    );
    // What is marked takes purge first; its list says what of it, and takes the mark away.
    choose_from(client, "Let a region take purge", "Plain").await?;
    let marked = |j: &serde_json::Value| j["rules"]["takers"]["base"].clone();
    job.when("infill", |j| marked(j) == "infill").await?;
    choose_from(client, "What of Plain takes purge", "all of it").await?;
    job.when("all", |j| marked(j) == "all").await?;
    wait_for(client, goes, |t| t.contains("Printed as what takes purge")).await?;
    ensure!(split(&job.plan().await?, "marked_mm3") > 1.0);
    choose_from(client, "What of Plain takes purge", "nothing").await?;
    job.when("nothing", |j| marked(j).is_null()).await?;
    wait_for(client, goes, |t| !t.contains("takes purge")).await?;
    // By hand and too short: told, and left to the rinse again in one click.
    click(client, "//label[contains(., 'By hand instead')]").await?;
    job.when("by hand", |j| j["rules"]["places"]["by_hand_mm"] == 180.0)
        .await?;
    type_into(client, "Pressed out by hand", "5").await?;
    wait_for(client, "body", |t| t.contains("out stained")).await?;
    wait_for(client, goes, |t| {
        t.contains("Pressed out by hand") && !t.contains("Into the tower")
    })
    .await?;
    click(client, "//label[contains(., 'By hand instead')]").await?;
    wait_for(client, "body", |t| !t.contains("out stained")).await?;
    // A quick plan purges nothing and says so.
    click(client, "//label[contains(., 'Quick plan')]").await?;
    wait_for(client, "body", |t| t.contains("out stained")).await?;
    ensure!(bill(&job).await?["purge_g"] == 0.0);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_measured_rinse_and_a_known_print_are_kept_with_the_printer() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    open(client, app, &job).await?;
    tab(client, "Rinse").await?;
    let before = job.get("").await?["printer"]["melt"]["volume_mm3"].as_f64();
    click(client, "//summary[.='Fit it to your nozzle']").await?;
    choose_from(client, "From", "Soot").await?;
    choose_from(client, "To", "Chalk").await?;
    type_into(client, "Clean after", "900").await?;
    click(client, "//details//button[.='Add']").await?;
    let rinses = "//details[contains(., 'Fitted:')]";
    client.wait().for_element(Locator::XPath(rinses)).await?;
    client
        .wait()
        .for_element(Locator::Css(
            "svg[aria-label='The fit and what was measured']",
        ))
        .await?;
    click(client, "//button[.='Keep it with the printer']").await?;
    let kept = job
        .when("the rinse", |j| {
            j["printer"]["rinses"]
                .as_array()
                .is_some_and(|r| r.len() == 1)
        })
        .await?;
    ensure!(
        kept["printer"]["melt"]["volume_mm3"].as_f64() != before,
        "{kept}"
    );
    // What was measured is what the plan asks for now.
    let plan = job.plan().await?;
    let pairs = plan["pairs"].as_array().context("pairs")?;
    let pair = pairs
        .iter()
        .find(|p| p["from"] == 3 && p["to"] == 1)
        .context("soot to chalk")?;
    let length = pair["purge_mm"].as_f64().context("a length")?;
    ensure!((length - 900.0).abs() < 5.0, "{pair}");
    tab(client, "Bill").await?;
    let minutes = bill(&job).await?["time_s"].as_f64().context("a time")? / 60.0;
    let real = (1.5 * minutes).round();
    type_into(client, "Minutes it really took", &real.to_string()).await?;
    click(client, "//button[contains(., 'pace by it')]").await?;
    job.when("the pace", |j| {
        j["printer"]["time_factor"]
            .as_f64()
            .is_some_and(|f| f > 1.0)
    })
    .await?;
    let now = bill(&job).await?["time_s"].as_f64().context("a time")?;
    ensure!((now - 60.0 * real).abs() < 1.0, "{now} of {real} min");
    Ok(())
}
