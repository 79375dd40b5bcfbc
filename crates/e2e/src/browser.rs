//! ChromeDriver and a headless Chromium at 1280 × 800.

use anyhow::{Context, Result, ensure};
use fantoccini::{Client, ClientBuilder};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::json;
use std::net::TcpListener;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

/// A browser with its driver; both end when dropped.
pub struct Browser {
    driver: Child,
    profile: tempfile::TempDir,
    /// The WebDriver session.
    pub client: Client,
}

impl Browser {
    /// Starts driver and browser with a page of 1280 × 800. Downloads go to [`Browser::downloads`].
    pub async fn start() -> Result<Browser> {
        let port = TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
        let driver = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .context("chromedriver does not start; `cargo xtask test` installs it")?;
        let profile = tempfile::tempdir()?;
        let arguments = [
            "--headless=new".to_string(),
            "--no-sandbox".into(),
            "--disable-quic".into(),
            "--no-first-run".into(),
            "--disable-background-networking".into(),
            "--disable-component-update".into(),
            "--disable-sync".into(),
            "--disable-dev-shm-usage".into(),
            "--use-angle=swiftshader".into(),
            "--enable-unsafe-swiftshader".into(),
            "--hide-scrollbars".into(),
            "--force-device-scale-factor=1".into(),
            "--window-size=1280,800".into(),
            format!(
                "--user-data-dir={}",
                profile.path().join("profile").display()
            ),
        ];
        let downloads = profile.path().join("downloads");
        std::fs::create_dir_all(&downloads)?;
        let capabilities = json!({
            "goog:chromeOptions": {
                "args": arguments,
            },
            "goog:loggingPrefs": { "browser": "ALL" },
        });
        let capabilities = capabilities.as_object().cloned().unwrap_or_default();
        let mut builder = ClientBuilder::new(plain_http());
        builder.capabilities(capabilities);
        let address = format!("http://127.0.0.1:{port}");
        let mut tries = 0;
        let client = loop {
            match builder.connect(&address).await {
                Ok(client) => break client,
                Err(e) if tries >= 50 => return Err(e).context("the browser does not start"),
                Err(_) => {
                    tries += 1;
                    tokio::time::sleep(Duration::from_millis(100)).await;
                }
            }
        };
        // A headless browser keeps no download unless told where, and its windows keep some height for themselves: both
        // are told by the driver's own commands. A page that is told its size has it at once, also on a busy machine.
        let session = client.session_id().await?.context("a session")?;
        let told = [
            json!({
                "cmd": "Browser.setDownloadBehavior",
                "params": { "behavior": "allow", "downloadPath": downloads.to_string_lossy() },
            }),
            json!({
                "cmd": "Emulation.setDeviceMetricsOverride",
                "params": { "width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": false },
            }),
        ];
        for command in told {
            reqwest::Client::new()
                .post(format!("{address}/session/{session}/goog/cdp/execute"))
                .json(&command)
                .send()
                .await?
                .error_for_status()?;
        }
        let seen = client
            .execute("return [window.innerWidth, window.innerHeight]", Vec::new())
            .await?;
        ensure!(
            seen == json!([1280, 800]),
            "the page is {seen} px, not 1280 × 800"
        );
        Ok(Browser {
            driver,
            profile,
            client,
        })
    }

    /// Where downloads land.
    pub fn downloads(&self) -> std::path::PathBuf {
        self.profile.path().join("downloads")
    }
}

/// Plain HTTP: the driver is on this machine.
fn plain_http() -> HttpConnector {
    HttpConnector::new()
}

impl Drop for Browser {
    fn drop(&mut self) {
        // Closing the driver closes its browser; both may be gone already.
        let _ = self.driver.kill();
        let _ = self.driver.wait();
    }
}
