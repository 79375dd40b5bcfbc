//! The stand-in for a printer as a process of its own.

use crate::app::binary;
use anyhow::{Context, Result, bail};
use serde_json::json;
use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

/// A running `varichrom stand-in`; killed when dropped.
pub struct StandIn {
    process: Child,
    /// Its address.
    pub url: String,
}

impl StandIn {
    /// Starts it on a free port in a mood.
    pub fn start(mood: &str) -> Result<StandIn> {
        let mut process = Command::new(binary())
            .args(["stand-in", "--port", "0", "--mood", mood])
            .stdout(Stdio::piped())
            .spawn()?;
        let out = process.stdout.take().context("its output is piped")?;
        for line in BufReader::new(out).lines() {
            if let Some((_, url)) = line?.split_once("stands in at ") {
                return Ok(StandIn {
                    process,
                    url: url.trim().to_string(),
                });
            }
        }
        bail!("the stand-in ended before it said its address")
    }

    /// Changes its mood.
    pub async fn set_mood(&self, mood: &str) -> Result<()> {
        let url = format!("{}/mood", self.url);
        let answer = reqwest::Client::new()
            .put(url)
            .json(&json!({ "mood": mood }));
        answer.send().await?.error_for_status()?;
        Ok(())
    }
}

impl Drop for StandIn {
    fn drop(&mut self) {
        // It may have ended already.
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}
