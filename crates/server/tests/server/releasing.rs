//! Release law: no file leaves with a release that is older than the last edit; what is said is kept; nonsense changes nothing. And a
//! rehearsal by the API, and the stand-in as a printer.

use crate::serving::Server;
use axum::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use std::time::Duration;

async fn release(server: &Server, id: i64) -> Value {
    let (status, view) = server
        .call("GET", &format!("/api/jobs/{id}/release"), "")
        .await;
    assert_eq!(status, StatusCode::OK, "{view}");
    view
}

async fn say(server: &Server, id: i64, revision: &Value, said: Value) -> (StatusCode, Value) {
    let path = format!("/api/jobs/{id}/release?revision={revision}");
    server.call("POST", &path, said.to_string()).await
}

/// A job that nothing is wrong with: one colour, one spool.
async fn plain(server: &Server) -> i64 {
    let id = server.import().await;
    let load = json!({ "edit": "load-slot", "slot": 1, "spool": "chalk" });
    assert_eq!(server.edit(id, load).await.0, StatusCode::OK);
    assert_eq!(server.plan(id).await["state"], "ready");
    id
}

async fn file(server: &Server, id: i64) -> String {
    for _ in 0..200 {
        let (status, bytes) = server
            .bytes(&format!("/api/jobs/{id}/files/print.gcode"))
            .await;
        if status == StatusCode::OK {
            return String::from_utf8(bytes).expect("words");
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("no file");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_release_is_of_one_revision_and_outlives_the_server() {
    let server = Server::new();
    let id = plain(&server).await;
    let view = release(&server, id).await;
    assert_eq!(view["state"], "open");
    let revision = view["revision"].clone();
    let (status, view) = say(
        &server,
        id,
        &revision,
        json!({ "do": "release", "by": "Ben" }),
    )
    .await;
    assert_eq!(status, StatusCode::OK, "{view}");
    assert_eq!(view["state"], "released");
    assert!(file(&server, id).await.contains("; released by Ben"));
    // Another process on the same folder knows it.
    let server = Server::over(server).await;
    assert_eq!(release(&server, id).await["state"], "released");
    // Every edit voids it, and so does its undo: that is a revision of its own.
    let rename = json!({ "edit": "rename-job", "name": "Other" });
    assert_eq!(server.edit(id, rename).await.0, StatusCode::OK);
    assert_eq!(release(&server, id).await["state"], "void");
    server.plan(id).await;
    assert!(!file(&server, id).await.contains("released by"));
    let (status, _) = server
        .call("POST", &format!("/api/jobs/{id}/undo"), "")
        .await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(release(&server, id).await["state"], "void");
    // A word on what was seen before is refused.
    let (status, answer) = say(
        &server,
        id,
        &revision,
        json!({ "do": "release", "by": "Ben" }),
    )
    .await;
    assert_eq!(
        (status, &answer["code"]),
        (StatusCode::CONFLICT, &json!("release-outdated"))
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn who_was_asked_is_waited_for_and_nothing_is_sent_before() {
    let server = Server::new();
    let id = plain(&server).await;
    let now = release(&server, id).await["revision"].clone();
    let ask = json!({ "do": "ask", "by": "Ada", "of": "Ben" });
    assert_eq!(say(&server, id, &now, ask).await.0, StatusCode::OK);
    let (_, waiting) = server.call("GET", "/api/waiting", "").await;
    assert_eq!(waiting[0]["id"], json!(id));
    let mut printer = server.call("GET", &format!("/api/jobs/{id}"), "").await.1["printer"].take();
    printer["address"] = json!("http://127.0.0.1:9");
    let set = json!({ "edit": "set-printer", "printer": printer });
    assert_eq!(server.edit(id, set).await.0, StatusCode::OK);
    server.plan(id).await;
    let path = format!("/api/jobs/{id}/sent");
    let (_, answer) = server
        .call("POST", &path, json!({ "file": 0 }).to_string())
        .await;
    assert_eq!(answer["code"], "release-missing", "{answer}");
    let now = release(&server, id).await["revision"].clone();
    let back = json!({ "do": "send-back", "by": "Ben", "note": "thicker", "at": { "layer": 3, "at_mm": [4.5, -2.0] } });
    let (_, view) = say(&server, id, &now, back).await;
    assert_eq!(view["state"], "sent-back");
    assert_eq!(server.call("GET", "/api/waiting", "").await.1, json!([]));
    let back = json!({ "do": "take-back", "by": "Ada" });
    assert_eq!(say(&server, id, &now, back).await.1["state"], "open");
    // Then the printer is asked, and nobody is there.
    let (_, answer) = server
        .call("POST", &path, json!({ "file": 0 }).to_string())
        .await;
    assert_eq!(answer["code"], "printer-silent", "{answer}");
}

/// A file from elsewhere goes to the printer as well, unless something is wrong with it there, or what was released is another.
#[tokio::test(flavor = "multi_thread")]
async fn a_file_from_elsewhere_is_sent_unless_it_is_wrong_or_another_was_released() {
    let server = Server::new();
    let id = plain(&server).await;
    let mut printer = server.call("GET", &format!("/api/jobs/{id}"), "").await.1["printer"].take();
    printer["address"] = json!("http://127.0.0.1:9");
    let set = json!({ "edit": "set-printer", "printer": printer });
    assert_eq!(server.edit(id, set).await.0, StatusCode::OK);
    server.plan(id).await;
    let own = file(&server, id).await;
    let keep = async |name: &str, text: String| {
        let path = format!("/api/jobs/{id}/sliced?file={name}");
        let (status, kept) = server.call("POST", &path, text).await;
        assert_eq!(status, StatusCode::CREATED, "{kept}");
        kept["id"].clone()
    };
    let send = async |kept: &serde_json::Value| {
        let path = format!("/api/jobs/{id}/sent");
        let body = json!({ "kept": kept }).to_string();
        server.call("POST", &path, body).await.1["code"].clone()
    };
    let sound = keep("from%20elsewhere.gcode", own.clone()).await;
    // Nobody is at the address; it got as far as that.
    assert_eq!(send(&sound).await, "printer-silent");
    let far = keep("far.gcode", own.replace("G1 X", "G1 X9")).await;
    assert_eq!(send(&far).await, "file-wrong");
    assert_eq!(send(&json!(99)).await, "not-found");
    let now = release(&server, id).await["revision"].clone();
    let released = json!({ "do": "release", "by": "Ben" });
    assert_eq!(say(&server, id, &now, released).await.0, StatusCode::OK);
    assert_eq!(send(&sound).await, "release-of-plan");
}

#[rstest]
#[case(json!({ "do": "release", "by": " " }), "name-missing")]
#[case(json!({ "do": "send-back", "by": "Ben", "note": "" }), "note-missing")]
#[case(json!({ "do": "send-back", "by": "Ben", "note": "so", "at": { "layer": 1, "at_mm": [1e9, 0.0] } }), "place-unusable")]
#[case(json!({ "do": "ask", "by": "x".repeat(200), "of": null }), "too-long")]
#[tokio::test(flavor = "multi_thread")]
async fn nonsense_is_refused_and_changes_nothing(#[case] said: Value, #[case] code: &str) {
    let server = Server::new();
    let id = plain(&server).await;
    let now = release(&server, id).await["revision"].clone();
    let (status, answer) = say(&server, id, &now, said).await;
    assert_eq!(
        (status, answer["code"].as_str()),
        (StatusCode::UNPROCESSABLE_ENTITY, Some(code))
    );
    assert_eq!(release(&server, id).await["looks"], json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_wrong_blocks_a_release() {
    let server = Server::new();
    let id = plain(&server).await;
    // Far off the bed.
    let mut printer = server.call("GET", &format!("/api/jobs/{id}"), "").await.1["printer"].take();
    printer["bed_mm"] = json!([12.0, 12.0, 50.0]);
    let set = json!({ "edit": "set-printer", "printer": printer });
    assert_eq!(server.edit(id, set).await.0, StatusCode::OK);
    server.plan(id).await;
    let view = release(&server, id).await;
    assert_eq!(view["checks"][0]["level"], "wrong", "{view}");
    let (_, answer) = say(
        &server,
        id,
        &view["revision"],
        json!({ "do": "release", "by": "Ben" }),
    )
    .await;
    assert_eq!(answer["code"], "release-blocked");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_rehearsal_runs_is_told_to_go_wrong_and_counts_only_without() {
    let server = Server::new();
    let id = plain(&server).await;
    let path = format!("/api/jobs/{id}/rehearsal");
    let (status, answer) = server.call("GET", &path, "").await;
    assert_eq!(
        (status, &answer["code"]),
        (StatusCode::CONFLICT, &json!("rehearsal-unknown"))
    );
    file(&server, id).await;
    let rehearsed = async || {
        let view = release(&server, id).await;
        let checks = view["checks"].as_array().expect("checks").clone();
        checks.iter().any(|c| c["code"] == "rehearsed")
    };
    // A trouble at a layer, so that no clock decides whether the print is still going on; and one of a slot that there is none of.
    let lost = json!([
        { "kind": "lost-steps", "layer": 20 },
        { "kind": "run-out", "layer": 20, "slot": 0 },
    ]);
    for troubles in [lost, json!([])] {
        let is_good = troubles == json!([]);
        let begin = json!({ "speed": null, "troubles": troubles });
        let (status, view) = server.call("POST", &path, begin.to_string()).await;
        assert_eq!(status, StatusCode::OK, "{view}");
        let mut view = view;
        for _ in 0..400 {
            match view["status"]["is"].as_str() {
                Some("done") => break,
                Some("waits") => {
                    let go_on = json!({ "do": "go-on" }).to_string();
                    server.call("POST", &format!("{path}/answer"), go_on).await;
                }
                _ => {}
            }
            view = server.call("GET", &path, "").await.1;
        }
        assert_eq!(view["status"]["is"], "done", "{view}");
        assert_eq!(view["verdict"]["is_good"], json!(is_good), "{view}");
        assert_eq!(rehearsed().await, is_good);
    }
}
