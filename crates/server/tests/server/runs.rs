//! After a print: grams off the spools once, how it went kept and changed, photos, all of it taken back.

use crate::serving::Server;
use axum::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};

/// A job with one spool loaded and its plan ready.
async fn plain(server: &Server) -> i64 {
    let id = server.import().await;
    let load = json!({ "edit": "load-slot", "slot": 1, "spool": "chalk" });
    assert_eq!(server.edit(id, load).await.0, StatusCode::OK);
    assert_eq!(server.plan(id).await["state"], "ready");
    id
}

async fn left_g(server: &Server) -> f64 {
    let (_, rack) = server.call("GET", "/api/rack", "").await;
    let spools = rack["spools"].as_array().expect("spools");
    let chalk = spools.iter().find(|s| s["id"] == "chalk").expect("chalk");
    chalk["left_g"].as_f64().expect("grams")
}

async fn runs(server: &Server, id: i64) -> Vec<Value> {
    let (_, runs) = server
        .call("GET", &format!("/api/jobs/{id}/runs"), "")
        .await;
    runs.as_array().expect("a list").clone()
}

const PNG: &[u8] = b"\x89PNG\r\n\x1a\nand so on";

#[tokio::test(flavor = "multi_thread")]
async fn what_a_print_really_took_is_booked_once_and_taken_back() {
    let server = Server::new();
    let id = plain(&server).await;
    let before = left_g(&server).await;
    let path = format!("/api/jobs/{id}/load/printed");
    let noted = json!({
        "run": 1,
        "grams": { "chalk": 12.5 },
        "about": { "took_s": 5400.0, "note": "A string at the foot" },
    });
    let (status, said) = server.call("POST", &path, noted.to_string()).await;
    assert_eq!(status, StatusCode::OK, "{said}");
    assert!((left_g(&server).await - (before - 12.5)).abs() < 1e-9);
    // The same again is no second print.
    let (status, _) = server.call("POST", &path, noted.to_string()).await;
    assert_eq!(status, StatusCode::CONFLICT);
    let kept = runs(&server, id).await;
    assert_eq!(kept.len(), 1);
    assert_eq!(kept[0]["grams"], 12.5);
    assert_eq!(
        kept[0]["about"],
        json!({ "took_s": 5400.0, "note": "A string at the foot" })
    );
    assert!(kept[0]["planned_s"].as_f64().expect("planned") > 0.0);
    // How it went is changed, a photo kept and shown, and taken away.
    let of = format!("/api/jobs/{id}/runs/1");
    let about = json!({ "took_s": null, "note": "" });
    let (status, _) = server.call("PUT", &of, about.to_string()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(runs(&server, id).await[0]["about"], about);
    let photo = format!("{of}/photo");
    let (status, said) = server.call("PUT", &photo, PNG).await;
    assert_eq!(status, StatusCode::OK, "{said}");
    assert_eq!(said[0]["has_photo"], true);
    assert_eq!(server.bytes(&photo).await, (StatusCode::OK, PNG.to_vec()));
    assert_eq!(
        server.call("DELETE", &photo, "").await.1[0]["has_photo"],
        false
    );
    assert_eq!(server.bytes(&photo).await.0, StatusCode::NOT_FOUND);
    // Taken back it was never there, and the next is the second.
    let (status, _) = server.call("DELETE", &format!("{path}/1"), "").await;
    assert_eq!(status, StatusCode::OK);
    assert!((left_g(&server).await - before).abs() < 1e-9);
    assert!(runs(&server, id).await.is_empty());
    let next = json!({ "run": 2 });
    let (status, _) = server.call("POST", &path, next.to_string()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(runs(&server, id).await[0]["run"], 2);
}

#[rstest]
#[case(json!({ "run": 1, "grams": { "chalk": -1.0 } }))]
#[case(json!({ "run": 1, "grams": { "chalk": 1e9 } }))]
#[case(json!({ "run": 1, "about": { "took_s": 0.0 } }))]
#[case(json!({ "run": 1, "about": { "took_s": 1e12 } }))]
#[case(json!({ "run": 1, "about": { "note": "x".repeat(2001) } }))]
#[case(json!({ "run": 1, "about": { "nonsense": 1 } }))]
#[case(json!({ "run": 1, "grams": { "chalk": 0.0 } }))]
#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_is_refused_and_nothing_is_booked(#[case] noted: Value) {
    let server = Server::new();
    let id = plain(&server).await;
    let before = left_g(&server).await;
    let path = format!("/api/jobs/{id}/load/printed");
    let (status, said) = server.call("POST", &path, noted.to_string()).await;
    assert!(status.is_client_error(), "{said}");
    assert_eq!(left_g(&server).await, before);
    assert!(runs(&server, id).await.is_empty());
    // No picture, no photo; and none of a print that was not noted.
    for (body, wanted) in [
        (
            &b"<svg onload=alert(1)>"[..],
            StatusCode::UNPROCESSABLE_ENTITY,
        ),
        (PNG, StatusCode::NOT_FOUND),
    ] {
        let photo = format!("/api/jobs/{id}/runs/1/photo");
        assert_eq!(server.call("PUT", &photo, body).await.0, wanted);
    }
}
