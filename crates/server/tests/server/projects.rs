//! What is exported is opened again: a whole job as a project file, and its bare edits.

use crate::serving::Server;
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::io::{Cursor, Read, Write};

async fn painted(server: &Server) -> i64 {
    let id = server.import().await;
    let red = json!({ "edit": "add-region", "region": "red", "name": "Red", "colour": "#aa3322", "slot": 2 });
    let band = |high: f64| json!({ "edit": "give-band", "region": "red", "low_mm": 2.0, "high_mm": high, "snap": false });
    for edit in [red, band(6.0)] {
        let (status, told) = server.edit(id, edit).await;
        assert_eq!(status, StatusCode::OK, "{told}");
    }
    // A step that was changed later: the edits that go out are those of the job as it stands.
    let steps = server
        .call("GET", &format!("/api/jobs/{id}/steps"), "")
        .await;
    let number = steps.1["steps"].as_array().expect("steps").len();
    let changed = json!({ "edit": "change-edit", "number": number, "to": band(5.0) });
    let (status, told) = server.edit(id, changed).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    id
}

async fn plan_of(server: &Server, id: i64) -> Value {
    server.plan(id).await["plan"].take()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_project_opens_elsewhere_with_its_models_spools_and_plan() {
    let here = Server::new();
    let id = painted(&here).await;
    let (status, project) = here
        .bytes(&format!("/api/jobs/{id}/files/project.zip"))
        .await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(
        here.bytes(&format!("/api/jobs/{id}/files/project.zip"))
            .await
            .1,
        project
    );
    let elsewhere = Server::new();
    elsewhere.workshop.set_rack(&[]).expect("an empty rack");
    let opened = elsewhere.import_mesh("my-project.zip", project).await;
    assert_eq!(plan_of(&here, id).await, plan_of(&elsewhere, opened).await);
    let path = |id: i64| format!("/api/jobs/{id}/edits");
    let (there, before) = (
        elsewhere.call("GET", &path(opened), "").await,
        here.call("GET", &path(id), "").await,
    );
    assert_eq!(there, before);
    // What could be taken back can be taken back there, and no more.
    let undo = format!("/api/jobs/{opened}/undo");
    for expected in [StatusCode::OK; 3] {
        assert_eq!(elsewhere.call("POST", &undo, "").await.0, expected);
    }
    let (status, told) = elsewhere.call("POST", &undo, "").await;
    assert_eq!(
        (status, &told["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("nothing-to-undo"))
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_project_among_models_is_told_whatever_it_is_called() {
    let server = Server::new();
    let id = painted(&server).await;
    let project = format!("/api/jobs/{id}/files/project.zip");
    let (_, project) = server.bytes(&project).await;
    let path = "/api/staged?file=holiday%20(1).zip";
    let (_, mut staged) = server.call("POST", path, project).await;
    for _ in 0..100 {
        if staged["state"]["state"] != "opening" {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
        let path = format!("/api/staged/{}", staged["id"]);
        staged = server.call("GET", &path, "").await.1;
    }
    assert_eq!(
        staged["state"]["problem"]["code"], "project-file",
        "{staged}"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn spools_that_are_there_stay_as_they_are_and_count_no_change() {
    let server = Server::new();
    let id = painted(&server).await;
    let (_, project) = server
        .bytes(&format!("/api/jobs/{id}/files/project.zip"))
        .await;
    let before = server.call("GET", "/api/rack", "").await.1;
    server.import_mesh("a-project.zip", project).await;
    let after = server.call("GET", "/api/rack", "").await.1;
    assert_eq!(
        (&before["revision"], &before["spools"]),
        (&after["revision"], &after["spools"])
    );
}

/// The archive with one file changed.
fn with(project: &[u8], name: &str, change: impl Fn(&mut Vec<u8>)) -> Vec<u8> {
    let mut archive = zip::ZipArchive::new(Cursor::new(project)).expect("an archive");
    let mut out = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for index in 0..archive.len() {
        let mut file = archive.by_index(index).expect("a file");
        let file_name = file.name().expect("its name").to_string();
        let mut bytes = Vec::new();
        file.read_to_end(&mut bytes).expect("its bytes");
        if file_name.starts_with(name) {
            change(&mut bytes);
        }
        if !bytes.is_empty() {
            let options = zip::write::SimpleFileOptions::default();
            out.start_file(file_name, options).expect("a file");
            out.write_all(&bytes).expect("written");
        }
    }
    out.finish().expect("an archive").into_inner()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_project_that_is_not_whole_is_refused_and_nothing_is_kept() {
    let here = Server::new();
    let id = painted(&here).await;
    let (_, project) = here
        .bytes(&format!("/api/jobs/{id}/files/project.zip"))
        .await;
    let newer = |b: &mut Vec<u8>| {
        let text = String::from_utf8_lossy(b).replace("give-band", "give-rainbow");
        *b = text.into_bytes();
    };
    let cases = [
        (with(&project, "models/", Vec::clear), "project-incomplete"),
        (
            with(&project, "models/", |b| b[90] ^= 1),
            "project-incomplete",
        ),
        (
            with(&project, "project.json", |b| b.truncate(200)),
            "project-not-readable",
        ),
        (with(&project, "project.json", newer), "project-newer"),
    ];
    let elsewhere = Server::new();
    for (bytes, code) in cases {
        let (status, told) = elsewhere
            .call("POST", "/api/jobs?file=a-project.zip", bytes)
            .await;
        assert_eq!(
            (status, &told["code"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!(code)),
            "{told}"
        );
    }
    let (_, shelf) = elsewhere.call("GET", "/api/jobs", "").await;
    assert_eq!(shelf, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn bare_edits_are_replayed_onto_models_of_the_same_names() {
    let server = Server::new();
    let id = painted(&server).await;
    let (_, bare) = server
        .bytes(&format!("/api/jobs/{id}/files/edits.json"))
        .await;
    let again = server.import().await;
    let (status, told) = server
        .call("POST", &format!("/api/jobs/{again}/replay"), bare)
        .await;
    assert_eq!(
        (status, &told["left_out"]),
        (StatusCode::OK, &json!([])),
        "{told}"
    );
    assert_eq!(plan_of(&server, id).await, plan_of(&server, again).await);
}
