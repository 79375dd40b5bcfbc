//! The application as a process of its own.

use anyhow::{Context, Result, bail};
use serde_json::{Value, json};
use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};

/// A running `varichrom`; killed when dropped.
pub struct App {
    process: Child,
    /// Its address, such as `http://127.0.0.1:40123`.
    pub url: String,
}

/// The built binary: `VARICHROM_BINARY`, which `cargo xtask test` sets, else the one in this workspace's target.
pub fn binary() -> PathBuf {
    std::env::var_os("VARICHROM_BINARY").map_or_else(
        || Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/debug/varichrom"),
        PathBuf::from,
    )
}

impl App {
    /// Starts `varichrom demo` or `varichrom serve` on a free port over a data folder, and waits until it answers.
    pub fn start(command: &str, data: &Path) -> Result<App> {
        let binary = binary();
        let mut process = Command::new(&binary)
            .args([command, "--port", "0", "--data"])
            .arg(data)
            .stdout(Stdio::piped())
            .spawn()
            .with_context(|| format!("{} does not start", binary.display()))?;
        let out = process.stdout.take().context("its output is piped")?;
        for line in BufReader::new(out).lines() {
            if let Some((_, url)) = line?.split_once("Varichrom is at ") {
                return Ok(App {
                    process,
                    url: url.trim().to_string(),
                });
            }
        }
        bail!("varichrom ended before it said its address")
    }

    /// Adds to the maker's `rack` or `printers`; each of `things` is as the change `add` takes it, without its `do`.
    pub async fn add(&self, path: &str, things: Vec<Value>) -> Result<()> {
        let url = format!("{}/api/{path}", self.url);
        let now: Value = reqwest::get(&url).await?.json().await?;
        let changes: Vec<Value> = things
            .into_iter()
            .map(|mut thing| {
                thing["do"] = "add".into();
                thing
            })
            .collect();
        let body = json!({ "revision": now["revision"], "changes": changes });
        let sent = reqwest::Client::new().post(url).json(&body).send();
        sent.await?.error_for_status()?;
        Ok(())
    }

    /// Ends the process as `kill -9` does: no warning, nothing tidied up.
    pub fn kill(mut self) -> Result<()> {
        self.process.kill()?;
        self.process.wait()?;
        Ok(())
    }
}

impl Drop for App {
    fn drop(&mut self) {
        // It may have ended already.
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}
