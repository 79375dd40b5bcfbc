//! What earlier versions wrote opens: data folders and project files of each, kept as they were written.
//!
//! A folder of `tests/fixtures` is named after the version whose running program made it, by the same edits: box and peg with a lid by patch
//! and part, a band, a stroke, purge into infill, a copy of the model, one turned, renamed; one undone and redone. In the database the
//! lid is recoloured after that.

use crate::serving::Server;
use axum::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use std::path::PathBuf;
use varichrom_server::{Config, Workshop};

fn kept(version: &str, file: &str) -> PathBuf {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/fixtures");
    PathBuf::from(folder).join(version).join(file)
}

async fn assert_whole(server: &Server, id: i64, lid: &str) {
    let path = format!("/api/jobs/{id}");
    let (status, job) = server.call("GET", &path, "").await;
    assert_eq!(status, StatusCode::OK, "{job}");
    assert_eq!(job["name"], "Box and pegs, kept");
    let names = |of: &str| -> Vec<String> {
        let all = job[of].as_array().expect("a list").iter();
        all.map(|m| m["name"].as_str().unwrap_or_default().into())
            .collect()
    };
    assert_eq!(names("models"), ["Box and peg", "Box and peg 2"]);
    assert_eq!(names("regions"), ["Plain", "Lid"]);
    assert_eq!(job["regions"][1]["colour"], lid);
    let share = job["regions"][1]["surface_share"].as_f64();
    assert!((share.expect("a share") - 0.527273).abs() < 1e-6, "{job}");
    let plan = server.plan(id).await;
    assert_eq!(plan["state"], "ready", "{plan}");
    assert_eq!(plan["plan"]["layers"].as_array().map(Vec::len), Some(50));
    // Every step leads back, and forth again.
    let mut steps = 0;
    let mut now = job.clone();
    while now["can_undo"] == json!(true) {
        now = server.call("POST", &format!("{path}/undo"), "").await.1;
        steps += 1;
        assert!(steps < 50, "{now}");
    }
    assert_eq!(names_of(&now["regions"]), ["Plain"]);
    for _ in 0..steps {
        now = server.call("POST", &format!("{path}/redo"), "").await.1;
    }
    assert_eq!(now["regions"], job["regions"]);
}

fn names_of(all: &Value) -> Vec<&str> {
    let all = all.as_array().expect("a list").iter();
    all.filter_map(|m| m["name"].as_str()).collect()
}

#[rstest]
#[case("0.1.0")]
#[tokio::test(flavor = "multi_thread")]
async fn a_data_folder_of_an_earlier_version_opens_with_every_edit(#[case] version: &str) {
    let folder = tempfile::tempdir().expect("a folder");
    let database = "varichrom.sqlite";
    std::fs::copy(kept(version, database), folder.path().join(database)).expect("a copy");
    let server = Server {
        workshop: Workshop::open(folder.path()).expect("it opens"),
        config: Config::default(),
        folder,
    };
    assert_whole(&server, 1, "#803020").await;
}

#[rstest]
#[case("0.1.0")]
#[tokio::test(flavor = "multi_thread")]
async fn a_project_file_of_an_earlier_version_opens_with_every_edit(#[case] version: &str) {
    let server = Server::new();
    let project = std::fs::read(kept(version, "project.zip")).expect("kept");
    let id = server.import_mesh("kept.zip", project).await;
    assert_whole(&server, id, "#21364e").await;
}
