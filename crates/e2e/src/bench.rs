//! A job made through the API, and the bench it is on.

use crate::gestures::still;
use crate::{App, chord, wait_for};
use anyhow::{Context, Result, ensure};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

/// How long anything is waited for.
const LONGEST: Duration = Duration::from_secs(20);

/// Middle of the bench of Colour at 1280 × 800, px.
pub const MIDDLE: (f64, f64) = (648.0, 324.0);

/// A job on a running application.
pub struct BenchJob<'a> {
    app: &'a App,
    /// Number of the job.
    pub id: i64,
}

impl BenchJob<'_> {
    /// A job of one model file.
    pub async fn of<'a>(app: &'a App, file: &str, bytes: Vec<u8>) -> Result<BenchJob<'a>> {
        let url = format!("{}/api/jobs?file={file}", app.url);
        let answer = reqwest::Client::new().post(url).body(bytes).send().await?;
        let job: Value = answer.error_for_status()?.json().await?;
        Ok(BenchJob {
            app,
            id: job["id"].as_i64().context("a number")?,
        })
    }

    /// What the API answers to a GET below the job.
    pub async fn get(&self, path: &str) -> Result<Value> {
        let url = format!("{}/api/jobs/{}{path}", self.app.url, self.id);
        Ok(reqwest::get(url).await?.error_for_status()?.json().await?)
    }

    /// Applies an edit through the API.
    pub async fn edit(&self, edit: Value) -> Result<()> {
        let url = format!("{}/api/jobs/{}/edits", self.app.url, self.id);
        let answer = reqwest::Client::new().post(url).json(&edit).send().await?;
        let status = answer.status();
        ensure!(status.is_success(), "{edit}: {}", answer.text().await?);
        Ok(())
    }

    /// Adds a region with its name as key.
    pub async fn add(&self, region: &str, colour: &str) -> Result<()> {
        let edit =
            json!({ "edit": "add-region", "region": region, "name": region, "colour": colour });
        self.edit(edit).await
    }

    /// Area of a region's surface, mm².
    pub async fn area(&self, region: &str) -> Result<f64> {
        let job = self.get("").await?;
        let whole: f64 = job["models"]
            .as_array()
            .context("models")?
            .iter()
            .filter_map(|m| m["area_mm2"].as_f64())
            .sum();
        let regions = job["regions"].as_array().context("regions")?;
        let found = regions.iter().find(|r| r["key"] == region);
        let share = found.and_then(|r| r["surface_share"].as_f64());
        Ok(whole * share.context("a share")?)
    }

    /// Waits until the area of a region is as wanted, and returns it.
    pub async fn area_when(&self, region: &str, is_wanted: impl Fn(f64) -> bool) -> Result<f64> {
        let start = Instant::now();
        loop {
            let area = self.area(region).await?;
            if is_wanted(area) {
                return Ok(area);
            }
            ensure!(
                start.elapsed() < LONGEST,
                "the area of {region} stays at {area}"
            );
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
    }

    /// The last edit.
    pub async fn last_edit(&self) -> Result<Value> {
        let edits = self.get("/edits").await?;
        edits
            .as_array()
            .and_then(|e| e.last())
            .cloned()
            .context("an edit")
    }

    /// Waits until the job is as wanted, and returns it.
    pub async fn when(&self, what: &str, is_wanted: impl Fn(&Value) -> bool) -> Result<Value> {
        let start = Instant::now();
        loop {
            let job = self.get("").await?;
            if is_wanted(&job) {
                return Ok(job);
            }
            ensure!(start.elapsed() < LONGEST, "{what} did not come: {job}");
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
    }

    /// The plan of the job as it stands, once it is there.
    pub async fn plan(&self) -> Result<Value> {
        let start = Instant::now();
        loop {
            let mut plan = self.get("/plan").await?;
            if plan["state"] == "ready" {
                return Ok(plan["plan"].take());
            }
            ensure!(start.elapsed() < LONGEST, "there is no plan: {plan}");
            tokio::time::sleep(Duration::from_millis(60)).await;
        }
    }

    /// Opens the job in Colour and waits until its model is on the bench.
    pub async fn open(&self, client: &Client) -> Result<()> {
        client
            .goto(&format!("{}/jobs/{}/colour", self.app.url, self.id))
            .await?;
        wait_for(client, "[aria-label='If printed now']", |t| {
            t.contains("Swaps")
        })
        .await?;
        // All models are on the bench, and the view that was fitted to them stands still.
        let bench = Locator::Css("[aria-label='Bench'][data-drawn]");
        client.wait().for_element(bench).await?;
        settled(client).await
    }
}

/// Presses the button of that name in the tray.
pub async fn tool(client: &Client, name: &str) -> Result<()> {
    click(
        client,
        &format!("//*[@role='toolbar']//button[normalize-space(.)='{name}']"),
    )
    .await
}

/// Chooses a region of the list.
pub async fn choose(client: &Client, region: &str) -> Result<()> {
    let css = format!("input[aria-label='Name of {region}']");
    client
        .wait()
        .for_element(Locator::Css(&css))
        .await?
        .click()
        .await?;
    // Out of the name field again, so that keys are keys.
    client
        .execute("document.activeElement.blur()", Vec::new())
        .await?;
    Ok(())
}

/// Looks along an axis: `above`, `the front` and so on, by the bench's menu.
pub async fn look_from(client: &Client, side: &str) -> Result<()> {
    click(client, "//button[@aria-label='View']").await?;
    click(
        client,
        &format!("//*[@role='menuitem'][normalize-space(.)='From {side}']"),
    )
    .await?;
    settled(client).await
}

/// Waits until the picture stands still: on a busy machine a turning view takes longer than on an idle one, and the pointer
/// would meet what is no longer there.
async fn settled(client: &Client) -> Result<()> {
    let mut before = Vec::new();
    for _ in 0..40 {
        tokio::time::sleep(Duration::from_millis(300)).await;
        let now = client.screenshot().await?;
        if now == before {
            return Ok(());
        }
        before = now;
    }
    anyhow::bail!("the picture does not come to rest")
}

/// Clicks what an XPath finds, once it is there.
pub async fn click(client: &Client, xpath: &str) -> Result<()> {
    let element = client.wait().for_element(Locator::XPath(xpath)).await?;
    Ok(element.click().await?)
}

/// Chooses from the list of that label: the option that says just this, or else the first that holds it.
pub async fn choose_from(client: &Client, label: &str, option: &str) -> Result<()> {
    click(
        client,
        &format!("//*[@role='combobox'][@aria-label='{label}']"),
    )
    .await?;
    client
        .wait()
        .for_element(Locator::Css("[role='listbox'] [role='option']"))
        .await?;
    still(client, "[role='listbox']").await?;
    let says = |how: String| format!("//*[@role='listbox']//*[@role='option'][{how}]");
    let exactly = says(format!(".='{option}'"));
    match client.find(Locator::XPath(&exactly)).await {
        Ok(exact) => Ok(exact.click().await?),
        Err(_) => click(client, &says(format!("contains(., '{option}')"))).await,
    }
}

/// Types into the field of that label and presses Enter.
pub async fn type_into(client: &Client, label: &str, text: &str) -> Result<()> {
    let css = format!("input[aria-label='{label}']");
    let field = client.wait().for_element(Locator::Css(&css)).await?;
    field.click().await?;
    client
        .execute("document.activeElement.select()", Vec::new())
        .await?;
    field.send_keys(text).await?;
    const ENTER: char = '\u{e007}';
    chord(client, &[ENTER]).await
}
