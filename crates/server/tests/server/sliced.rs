//! Print files from elsewhere by the API: kept, read, told, rewritten, joined, forgotten; nonsense changes nothing.

use crate::serving::Server;
use axum::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};

/// Two tools, two layers, a line each.
const TWO: &str = "M109 S205\nG28\nG90\nM83\nT0\nG0 X50 Y50 Z0.2 F6000\nG1 X90 E25 F1800\nT1\nG0 X50 Y60\nG1 X90 E25\nG0 Z0.4\nG1 X50 E25\nT0\nG0 X50 Y50\nG1 X90 E25\n";

async fn keep(server: &Server, id: i64, name: &str, text: &str) -> i64 {
    let path = format!("/api/jobs/{id}/sliced?file={name}");
    let (status, kept) = server.call("POST", &path, text.to_string()).await;
    assert_eq!(status, StatusCode::CREATED, "{kept}");
    kept["id"].as_i64().expect("a number")
}

async fn list(server: &Server, id: i64) -> Vec<Value> {
    let (_, kept) = server
        .call("GET", &format!("/api/jobs/{id}/sliced"), "")
        .await;
    kept.as_array().expect("a list").clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_is_kept_read_told_and_forgotten() {
    let server = Server::new();
    let (status, made) = server
        .call("POST", "/api/sliced?file=two-lines.gcode", TWO)
        .await;
    assert_eq!(status, StatusCode::CREATED, "{made}");
    let id = made["job"].as_i64().expect("a job");
    let path = format!("/api/jobs/{id}/sliced/{}", made["file"]);
    let (_, job) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(job["name"], "Two lines");
    let (_, view) = server.call("GET", &path, "").await;
    assert_eq!(view["report"]["layers"][0]["order"], json!([1, 2]));
    assert_eq!(view["report"]["layers"][1]["order"], json!([2, 1]));
    assert_eq!(view["file"]["bytes"], TWO.len());
    // Another slot stands for a tool.
    let said = json!({ "tools": { "1": 3 }, "turns": [] });
    let (status, view) = server.call("PUT", &path, said.to_string()).await;
    assert_eq!(status, StatusCode::OK, "{view}");
    assert_eq!(view["report"]["layers"][0]["order"], json!([1, 3]));
    let none = json!({ "tools": { "1": 9 }, "turns": [] });
    let (status, _) = server.call("PUT", &path, none.to_string()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, view) = server.call("GET", &path, "").await;
    assert_eq!(view["file"]["tools"], json!({ "1": 3 }));
    let (status, bytes) = server.bytes(&format!("{path}/moves.bin")).await;
    assert_eq!((status, &bytes[..4]), (StatusCode::OK, &b"VCV1"[..]));
    let (_, text) = server.bytes(&format!("{path}/files/print.gcode")).await;
    assert_eq!(text, TWO.as_bytes());
    let (status, _) = server.bytes(&format!("{path}/files/splices.json")).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (status, _) = server.call("DELETE", &path, "").await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let (status, _) = server.call("GET", &path, "").await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    assert!(list(&server, id).await.is_empty());
}

#[rstest]
#[case::nothing("", "file-lays-nothing")]
#[case::words("anything at all\n", "file-lays-nothing")]
#[case::moves("G28\nG1 X10 Y10\n", "file-lays-nothing")]
#[case::binary("G1 X1\0\u{1}\n", "gcode-binary")]
#[case::absurd("G1 X1e999 E1\n", "gcode-unreadable")]
#[tokio::test(flavor = "multi_thread")]
async fn what_is_no_print_file_changes_nothing(#[case] text: &str, #[case] code: &str) {
    let server = Server::new();
    let (status, said) = server
        .call("POST", "/api/sliced?file=x.gcode", text.to_string())
        .await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{said}");
    assert_eq!(said["code"], code, "{said}");
    let (_, jobs) = server.call("GET", "/api/jobs", "").await;
    assert_eq!(jobs, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn tools_become_a_strand_and_files_are_joined_beside_what_they_were() {
    let server = Server::new();
    let id = server.import().await;
    let two = keep(&server, id, "two.gcode", TWO).await;
    let (_, job) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
    let mut printer = job["printer"].clone();
    printer["kind"] = json!({ "is": "splicer" });
    let edit = json!({ "edit": "set-printer", "printer": printer });
    assert_eq!(server.edit(id, edit).await.0, StatusCode::OK);
    let path = format!("/api/jobs/{id}/rewritten");
    let (status, made) = server
        .call("POST", &path, json!({ "files": [two] }).to_string())
        .await;
    assert_eq!(status, StatusCode::CREATED, "{made}");
    let splices = made["file"]["made"]["splices"].as_array().expect("lengths");
    let lengths: Vec<f64> = splices.iter().filter_map(|s| s["mm"].as_f64()).collect();
    assert_eq!(lengths, [25.0, 50.0, 25.0]);
    let kept = list(&server, id).await;
    assert_eq!(kept.len(), 2);
    assert_eq!(kept[1]["name"], "two-rewritten.gcode");
    // It is read as the strand that it is for.
    let of = format!("/api/jobs/{id}/sliced/{}", made["file"]["id"]);
    let (_, view) = server.call("GET", &of, "").await;
    assert_eq!(view["report"]["layers"][1]["order"], json!([2, 1]));
    let (_, text) = server.bytes(&format!("{of}/files/splices.json")).await;
    let text: Value = serde_json::from_slice(&text).expect("JSON");
    assert_eq!(text["splices"].as_array().map(Vec::len), Some(3));
    let (_, text) = server.bytes(&format!("{of}/files/differences.txt")).await;
    assert!(String::from_utf8_lossy(&text).contains("- T1"));
    // Neither a file of another job nor none at all can be rewritten.
    for files in [json!([999]), json!([])] {
        let (status, _) = server
            .call("POST", &path, json!({ "files": files }).to_string())
            .await;
        assert!(status.is_client_error());
    }
    assert_eq!(list(&server, id).await.len(), 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_kept_file_is_rehearsed_and_says_nothing_of_the_jobs_own() {
    let server = Server::new();
    let (_, made) = server
        .call("POST", "/api/sliced?file=two-lines.gcode", TWO)
        .await;
    let (id, file) = (made["job"].as_i64().expect("a job"), made["file"].clone());
    let path = format!("/api/jobs/{id}/rehearsal");
    let ask = |file: &Value| json!({ "speed": null, "file": file }).to_string();
    let (status, view) = server.call("POST", &path, ask(&file)).await;
    assert_eq!(status, StatusCode::OK, "{view}");
    assert_eq!(view["file"], file);
    assert_eq!(view["slots"].as_array().map(Vec::len), Some(2));
    let mut view = view;
    while view["status"]["is"] == "running" {
        view = server.call("GET", &path, "").await.1;
    }
    assert_eq!(view["status"]["is"], "done", "{view}");
    assert_eq!(view["verdict"]["swaps"], 2);
    assert_eq!(view["verdict"]["swaps_as_planned"], 2);
    // The plan's own print is as unrehearsed as before.
    let (_, release) = server
        .call("GET", &format!("/api/jobs/{id}/release"), "")
        .await;
    let checks = release["checks"].to_string();
    assert!(!checks.contains("\"rehearsed\""), "{checks}");
    let (status, _) = server.call("POST", &path, ask(&json!(999))).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn kept_files_go_with_their_job() {
    let server = Server::new();
    let id = server.import().await;
    keep(&server, id, "two.gcode", TWO).await;
    let (status, _) = server.call("DELETE", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let again = server.import().await;
    assert!(list(&server, again).await.is_empty());
}
