//! The shelf: tags, what is put away, copies, and the bin.

use crate::serving::Server;
use axum::http::StatusCode;
use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use rstest::rstest;
use serde_json::{Value, json};

async fn names(server: &Server, path: &str) -> Vec<(String, bool)> {
    let (status, shelf) = server.call("GET", path, "").await;
    assert_eq!(status, StatusCode::OK, "{shelf}");
    let all = shelf.as_array().expect("a list");
    let line = |j: &Value| {
        let name = j["name"].as_str().expect("a name").to_string();
        (name, j["is_archived"] == true)
    };
    all.iter().map(line).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_deleted_job_comes_back_whole_until_it_is_deleted_for_good() {
    let server = Server::new();
    let id = server.import().await;
    let rename = json!({ "edit": "rename-job", "name": "Kept" });
    assert_eq!(server.edit(id, rename).await.0, StatusCode::OK);
    let path = format!("/api/jobs/{id}");
    let before = server.call("GET", &path, "").await.1;
    assert_eq!(
        server.call("DELETE", &path, "").await.0,
        StatusCode::NO_CONTENT
    );
    assert_eq!(
        server.call("DELETE", &path, "").await.0,
        StatusCode::NOT_FOUND
    );
    let plan = format!("{path}/plan");
    for gone in [&path, &plan] {
        assert_eq!(
            server.call("GET", gone, "").await.0,
            StatusCode::NOT_FOUND,
            "{gone}"
        );
    }
    assert!(names(&server, "/api/jobs").await.is_empty());
    assert_eq!(
        names(&server, "/api/bin").await,
        [("Kept".to_string(), false)]
    );
    let server = Server::over(server).await;
    let back = format!("{path}/back");
    assert_eq!(
        server.call("POST", &back, "").await.0,
        StatusCode::NO_CONTENT
    );
    assert_eq!(
        server.call("POST", &back, "").await.0,
        StatusCode::NOT_FOUND
    );
    assert_eq!(
        server.call("GET", &path, "").await.1["regions"],
        before["regions"]
    );
    let for_good = format!("{path}?for_good=true");
    assert_eq!(
        server.call("DELETE", &for_good, "").await.0,
        StatusCode::NO_CONTENT
    );
    assert!(names(&server, "/api/bin").await.is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn the_bin_is_emptied_of_what_lay_there_for_a_month() {
    let mut server = Server::new();
    let (old, new) = (server.import().await, server.import().await);
    for id in [old, new] {
        server.call("DELETE", &format!("/api/jobs/{id}"), "").await;
    }
    let file = server.folder.path().join("varichrom.sqlite");
    let mut database = SqliteConnection::establish(&file.to_string_lossy()).expect("opens");
    let age = format!("UPDATE jobs SET deleted_at = datetime('now', '-31 days') WHERE id = {old}");
    database.batch_execute(&age).expect("aged");
    // A server that runs looks after it by itself.
    let (_, serving) = server.serve().await;
    for _ in 0..200 {
        if names(&server, "/api/bin").await.len() == 1 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    serving.abort();
    let (_, left) = server.call("GET", "/api/bin", "").await;
    assert_eq!(left[0]["id"], json!(new));
    assert_eq!(left.as_array().map(Vec::len), Some(1));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_copy_is_a_job_of_its_own() {
    let server = Server::new();
    let id = server.import().await;
    let (status, copy) = server
        .call("POST", &format!("/api/jobs/{id}/duplicate"), "")
        .await;
    assert_eq!(
        (status, &copy["name"]),
        (StatusCode::CREATED, &json!("My box 2"))
    );
    let (status, again) = server
        .call("POST", &format!("/api/jobs/{id}/duplicate"), "")
        .await;
    assert_eq!(
        (status, &again["name"]),
        (StatusCode::CREATED, &json!("My box 3"))
    );
    // What happens to the first does not happen to the second, not even its end.
    let delete = format!("/api/jobs/{id}?for_good=true");
    assert_eq!(
        server.call("DELETE", &delete, "").await.0,
        StatusCode::NO_CONTENT
    );
    let server = Server::over(server).await;
    let id = copy["id"].as_i64().expect("an id");
    assert_eq!(server.plan(id).await["state"], "ready");
}

#[rstest]
#[case::plain(json!(["gifts", "Club"]), 204, json!(["gifts", "Club"]))]
#[case::tidied(json!([" two  words ", "GIFTS", "gifts", ""]), 204, json!(["two words", "GIFTS"]))]
#[case::too_long(json!(["x".repeat(41)]), 422, json!([]))]
#[case::too_many(json!((0..13).map(|n| n.to_string()).collect::<Vec<_>>()), 422, json!([]))]
#[tokio::test(flavor = "multi_thread")]
async fn tags_are_kept_as_they_can_be_read(
    #[case] tags: Value,
    #[case] status: u16,
    #[case] kept: Value,
) {
    let server = Server::new();
    let id = server.import().await;
    let path = format!("/api/jobs/{id}/shelving");
    let to = json!({ "tags": tags, "is_archived": true });
    assert_eq!(
        server.call("PUT", &path, to.to_string()).await.0.as_u16(),
        status
    );
    // An edit afterwards changes nothing of it.
    server
        .edit(id, json!({ "edit": "rename-job", "name": "Renamed" }))
        .await;
    let (_, shelf) = server.call("GET", "/api/jobs", "").await;
    assert_eq!(shelf[0]["tags"], kept);
    assert_eq!(shelf[0]["is_archived"], json!(status == 204));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_shelf_says_how_far_each_job_is() {
    let server = Server::new();
    let id = server.import().await;
    let stands = async || server.call("GET", "/api/jobs", "").await.1[0]["stands"].clone();
    assert_eq!(stands().await, "open");
    let lid = json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#c02020" });
    server.edit(id, lid).await;
    assert_ne!(stands().await, "open");
    server.plan(id).await;
    assert_eq!(stands().await, "planned");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_job_has_a_picture_in_its_colours_as_it_stands() {
    let server = Server::new();
    let id = server.import().await;
    let path = format!("/api/jobs/{id}/picture.png");
    let (status, plain) = server.bytes(&path).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(&plain[..8], b"\x89PNG\r\n\x1a\n");
    let edit = json!({ "edit": "recolour-region", "region": "base", "colour": "#c7452f" });
    assert_eq!(server.edit(id, edit).await.0, StatusCode::OK);
    let (_, red) = server.bytes(&path).await;
    assert_ne!(plain, red);
    // It is kept, and what is undone is seen.
    let server = Server::over(server).await;
    assert_eq!(server.bytes(&path).await.1, red);
    let undo = format!("/api/jobs/{id}/undo");
    assert_eq!(server.call("POST", &undo, "").await.0, StatusCode::OK);
    assert_eq!(server.bytes(&path).await.1, plain);
    assert_eq!(
        server.bytes("/api/jobs/999/picture.png").await.0,
        StatusCode::NOT_FOUND
    );
}
