//! `kill -9` in the middle of a series of edits loses none that was acknowledged.

use anyhow::{Context, Result};
use serde_json::{Value, json};
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;
use varichrom_e2e::App;

#[tokio::test(flavor = "multi_thread")]
async fn acknowledged_edits_survive_kill_9() -> Result<()> {
    let data = tempfile::tempdir()?;
    let http = reqwest::Client::new();
    let app = App::start("serve", data.path())?;
    let cube = varichrom_demo::box_mesh([0.0; 3], [20.0; 3]);
    let made: Value = http
        .post(format!("{}/api/jobs?file=cube.stl", app.url))
        .body(varichrom_demo::stl(&cube, "cube"))
        .send()
        .await?
        .json()
        .await?;
    let id = made["id"].as_i64().context("an id")?;
    let edits = |url: &str| format!("{url}/api/jobs/{id}/edits");
    let opening: Vec<Value> = http.get(edits(&app.url)).send().await?.json().await?;

    let mut sent_in_all = 0;
    let mut app = app;
    for round in 0..4u64 {
        let acknowledged = Arc::new(AtomicUsize::new(0));
        let sender = {
            let (http, url, acknowledged) = (http.clone(), edits(&app.url), acknowledged.clone());
            let first = sent_in_all;
            tokio::spawn(async move {
                for n in first.. {
                    let edit = json!({ "edit": "rename-job", "name": format!("name {n}") });
                    match http.post(&url).body(edit.to_string()).send().await {
                        Ok(answer) if answer.status().is_success() => {
                            acknowledged.fetch_add(1, Ordering::SeqCst);
                        }
                        _ => return,
                    }
                }
            })
        };
        while acknowledged.load(Ordering::SeqCst) < 20 {
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
        tokio::time::sleep(Duration::from_millis(3 * round)).await;
        app.kill()?;
        sender.await?;
        let acknowledged = acknowledged.load(Ordering::SeqCst);

        app = App::start("serve", data.path())?;
        let kept: Vec<Value> = http.get(edits(&app.url)).send().await?.json().await?;
        let names = kept.len() - opening.len();
        let promised = sent_in_all + acknowledged;
        // One more may have been kept without its answer getting through.
        assert!(
            (promised..=promised + 1).contains(&names),
            "{names} kept, {promised} promised"
        );
        for (n, edit) in kept[opening.len()..].iter().enumerate() {
            assert_eq!(edit["name"], format!("name {n}"));
        }
        let job: Value = http
            .get(format!("{}/api/jobs/{id}", app.url))
            .send()
            .await?
            .json()
            .await?;
        assert_eq!(job["name"], format!("name {}", names - 1));
        sent_in_all = names;
    }
    Ok(())
}
