//! Before and at the print, by the real pointer and keyboard: a full rehearsal with a run-out answered, troubles caught by the page, a
//! release that an edit voids, and a file sent to a printer that is a process of its own.

use crate::plan_block::{block, handover};
use anyhow::{Result, ensure};
use fantoccini::Locator;
use serde_json::json;
use std::time::Duration;
use varichrom_e2e::{Desk, StandIn, choose_from, click, wait_for};

const HAPPENED: &str = "[aria-label='What happened']";
const VERDICT: &str = "[aria-label='Verdict']";
const RELEASE: &str = "[aria-label='Release']";
const CHECKS: &str = "[aria-label='Checks']";

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_print_is_rehearsed_and_a_run_out_answered() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    handover(client, app, &job).await?;
    wait_for(client, CHECKS, |t| t.contains("has not been rehearsed")).await?;
    click(client, "//button[.='Rehearse']").await?;
    from_the_start(client).await?;
    // The spool that prints ends: the machine asks, and somebody puts in another one.
    click(client, "//button[.='Run out']").await?;
    pace(client, "at once").await?;
    wait_for(client, "[role='alert']", |t| t.contains("is empty")).await?;
    click(client, "//button[.='Loaded, go on']").await?;
    wait_for(client, VERDICT, |t| {
        t.contains("It prints as it should") && t.contains("slot 1")
    })
    .await?;
    // Without anything going wrong it counts, and Handover says so.
    from_the_start(client).await?;
    pace(client, "at once").await?;
    wait_for(client, VERDICT, |t| t.contains("It prints as it should")).await?;
    click(client, "//button[.='Back to Handover']").await?;
    wait_for(client, CHECKS, |t| t.contains("Rehearsed: no stain")).await?;
    Ok(())
}

/// Begins anew so slowly that whatever is told next finds the machine still warming up, however slow this computer is.
async fn from_the_start(client: &fantoccini::Client) -> Result<()> {
    wait_for(client, VERDICT, |_| true).await?;
    pace(client, "1×").await?;
    wait_for(client, "[aria-label='Pace']", |t| t == "1×").await?;
    click(client, "//button[.='From the start']").await?;
    wait_for(client, VERDICT, |t| t.contains("Verdict so far")).await?;
    wait_for(client, "[role='timer']", |t| t.ends_with("layer 1")).await?;
    Ok(())
}

async fn pace(client: &fantoccini::Client, pace: &str) -> Result<()> {
    choose_from(client, "Pace", pace).await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_asked_before_a_change_does_not_undo_it_on_the_page() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    client
        .goto(&format!("{}/jobs/{}/rehearsal", app.url, job.id))
        .await?;
    from_the_start(client).await?;
    // Whatever is asked of the rehearsal comes back late.
    const LATE: &str = "
        const now = window.fetch;
        window.fetch = async (...asked) => {
            const answer = await now(...asked);
            const isLook = (asked[1]?.method ?? 'GET') === 'GET' && String(asked[0]).endsWith('/rehearsal');
            if (isLook) await new Promise((done) => setTimeout(done, 1500));
            return answer;
        };";
    client.execute(LATE, Vec::new()).await?;
    tokio::time::sleep(Duration::from_millis(600)).await;
    click(client, "//button[.='Hold']").await?;
    client
        .wait()
        .for_element(Locator::XPath("//button[.='Go on']"))
        .await?;
    for _ in 0..20 {
        tokio::time::sleep(Duration::from_millis(100)).await;
        ensure!(
            client
                .find(Locator::XPath("//button[.='Go on']"))
                .await
                .is_ok(),
            "it goes on again"
        );
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn each_trouble_is_seen_on_the_page() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    for (trouble, pane, said) in [
        ("Jam", "[role='alert']", "Nothing comes out"),
        ("Power cut", "[role='alert']", "The power is gone"),
        ("Lost steps", VERDICT, "Laid aside of its place"),
        ("Wrong spool", VERDICT, "It does not print as it should"),
    ] {
        client
            .goto(&format!("{}/jobs/{}/rehearsal", app.url, job.id))
            .await?;
        from_the_start(client).await?;
        click(client, &format!("//button[.='{trouble}']")).await?;
        pace(client, "at once").await?;
        wait_for(client, pane, |t| t.contains(said)).await?;
        if trouble == "Power cut" {
            wait_for(client, HAPPENED, |t| t.contains("The power went")).await?;
            // The rest of the file is there, and finds its height by hand.
            let link = client
                .find(Locator::XPath("//a[.='Save the rest of the file']"))
                .await?;
            let path = link.attr("href").await?.unwrap_or_default();
            let rest = reqwest::get(format!("{}{path}", app.url))
                .await?
                .error_for_status()?
                .text()
                .await?;
            ensure!(
                rest.contains("G92 Z") && rest.contains("G28 X Y\n"),
                "{}",
                &rest[..400]
            );
        }
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_person_releases_and_an_edit_voids_it() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    handover(client, app, &job).await?;
    wait_for(client, RELEASE, |t| t.contains("Nobody has let it go")).await?;
    be(client, "Ada").await?;
    click(client, "//button[.='Ask to look']").await?;
    wait_for(client, RELEASE, |t| t.contains("asks anybody to look")).await?;
    let waiting = reqwest::get(format!("{}/api/waiting", app.url))
        .await?
        .text()
        .await?;
    ensure!(waiting.contains("Block"), "{waiting}");
    // Another person sends it back with a note, and then lets it go.
    be(client, "Ben").await?;
    click(client, "//button[.='Send back with a note']").await?;
    let note = client.wait().for_element(Locator::Css("textarea")).await?;
    note.send_keys("The lid is too thin").await?;
    // A click on the layer beside says where.
    wait_for(client, RELEASE, |t| t.contains("a click on it marks")).await?;
    let drawing = Locator::Css("[aria-label='Drawing of beads']");
    client.wait().for_element(drawing).await?.click().await?;
    wait_for(client, RELEASE, |t| t.contains("where it is marked")).await?;
    click(client, "//button[.='Send back']").await?;
    wait_for(client, RELEASE, |t| {
        t.contains("Sent back by Ben")
            && t.contains("too thin")
            && !t.contains("where it is marked")
    })
    .await?;
    // It is shown again where it was meant.
    let marked = Locator::Css("[data-mark]");
    ensure!(client.find_all(marked).await?.is_empty());
    click(client, "//button[contains(., 'at the mark in layer 1')]").await?;
    client.wait().for_element(marked).await?;
    click(client, "//button[.='Release']").await?;
    wait_for(client, RELEASE, |t| t.contains("Released by Ben")).await?;
    let file = format!("{}/api/jobs/{}/files/print.gcode", app.url, job.id);
    let text = reqwest::get(&file).await?.text().await?;
    ensure!(text.lines().take(3).any(|l| l.contains("released by Ben")));
    // Any edit voids it, and undoing the edit does not bring it back.
    job.edit(json!({ "edit": "set-soak", "region": "lid", "soak_mm": 1.2 }))
        .await?;
    wait_for(client, RELEASE, |t| t.contains("No longer released")).await?;
    let text = reqwest::get(&file).await?.text().await?;
    ensure!(!text.contains("released by"));
    // A tick is kept with who made it.
    click(client, "//label[contains(., 'Bed clean')]").await?;
    wait_for(client, "[aria-label='By hand']", |t| t.contains("Ben")).await?;
    Ok(())
}

/// Says who sits here.
async fn be(client: &fantoccini::Client, name: &str) -> Result<()> {
    let field = client
        .wait()
        .for_element(Locator::Css("input[aria-label='Your name']"))
        .await?;
    // Over whatever stands there.
    field
        .send_keys(&format!("\u{e009}a\u{e000}{name}\u{e007}"))
        .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_is_sent_to_a_printer_and_stopped() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    let printer = StandIn::start("right")?;
    let mut own = job.get("").await?["printer"].take();
    own["address"] = json!(printer.url);
    job.edit(json!({ "edit": "set-printer", "printer": own }))
        .await?;
    handover(client, app, &job).await?;
    click(client, "//button[.='Send']").await?;
    wait_for(client, "[aria-label='At the printer']", |t| {
        t.contains("prints")
    })
    .await?;
    let told = reqwest::get(format!("{}/print", printer.url))
        .await?
        .text()
        .await?;
    ensure!(told.contains("-feeder.gcode"), "{told}");
    // It prints already: what it says is passed on.
    let sent = reqwest::Client::new()
        .post(format!("{}/api/jobs/{}/sent", app.url, job.id))
        .json(&json!({ "file": 0 }))
        .send()
        .await?
        .text()
        .await?;
    ensure!(sent.contains("The printer is printing"), "{sent}");
    click(client, "//button[.='Stop the print']").await?;
    wait_for(client, "[aria-label='For the machine']", |t| {
        !t.contains("Stop the print")
    })
    .await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_print_is_noted_with_what_it_took_and_taken_back() -> Result<()> {
    let desk = Desk::start().await?;
    let (app, client) = (&desk.app, &desk.browser.client);
    let job = block(app).await?;
    handover(client, app, &job).await?;
    const AFTER: &str = "[aria-label='After the print']";
    click(client, "//button[.='It is printed']").await?;
    let minutes = client
        .wait()
        .for_element(Locator::Css("[aria-label='Minutes it took']"))
        .await?;
    minutes.click().await?;
    minutes.send_keys("55\u{e007}").await?;
    let note = client.find(Locator::Css("[aria-label='How it went']"));
    note.await?.send_keys("Strings at the foot").await?;
    click(client, "//button[.='Take it off the spools']").await?;
    wait_for(client, AFTER, |t| {
        t.contains("took 55 min") && t.contains("Strings at the foot")
    })
    .await?;
    // A print that took as much longer as this one teaches the plan its pace.
    click(client, "//button[.='Let the plan learn its pace']").await?;
    wait_for(client, "[aria-label='From the moves']", |t| {
        t.contains("55 min")
    })
    .await?;
    let photo = desk.data.path().join("photo.png");
    std::fs::write(&photo, client.screenshot().await?)?;
    let picker = client.find(Locator::Css("[aria-label='Photo of print 1']"));
    picker.await?.send_keys(&photo.to_string_lossy()).await?;
    wait_for(client, AFTER, |t| t.contains("Take the photo away")).await?;
    click(client, "//button[.='Take it back']").await?;
    wait_for(client, AFTER, |t| !t.contains("Strings")).await?;
    Ok(())
}
