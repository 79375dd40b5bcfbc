//! What Plan asks besides the plan: the bill opened, snags, ways, calibration, a known time.

use crate::serving::Server;
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::time::Duration;
use varichrom_demo::{box_mesh, printers, stl, subdivided_sphere};

async fn get(server: &Server, path: &str) -> Value {
    let (status, value) = server.call("GET", path, "").await;
    assert_eq!(status, StatusCode::OK, "{path}: {value}");
    value
}

async fn post(server: &Server, path: &str, body: Value) -> (StatusCode, Value) {
    server.call("POST", path, body.to_string()).await
}

/// Asks until a search has ended.
async fn ended(server: &Server, path: &str) -> Value {
    for _ in 0..400 {
        let view = get(server, path).await;
        if view["state"] != "working" && view["state"] != "waiting" {
            return view;
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    panic!("{path} never ends");
}

/// A block with a lid of another colour whose walls are bare, a line that is next to nothing, and the demo's printers.
async fn block(server: &Server) -> i64 {
    server.workshop.set_printers(&printers()).unwrap();
    let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), "block");
    let id = server.import_mesh("block.stl", bytes).await;
    let at = json!({ "model": "Block", "point": [10.0, 10.0, 10.0], "normal": [0.0, 0.0, 1.0] });
    for edit in [
        json!({ "edit": "load-slot", "slot": 1, "spool": "chalk" }),
        json!({ "edit": "load-slot", "slot": 2, "spool": "rust-red" }),
        json!({ "edit": "load-slot", "slot": 3, "spool": "soot" }),
        json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#c7452f", "slot": 2 }),
        json!({ "edit": "add-region", "region": "line", "name": "Line", "colour": "#171718", "slot": 3 }),
        json!({ "edit": "give-patch", "region": "lid", "at": at, "crease_deg": 30 }),
        json!({ "edit": "give-band", "region": "line", "low_mm": 4.0, "high_mm": 4.2 }),
    ] {
        let (status, answer) = server.edit(id, edit).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
    }
    assert_eq!(server.plan(id).await["state"], "ready");
    id
}

fn waste(bill: &Value) -> f64 {
    bill["purge_g"].as_f64().unwrap() + bill["tower_g"].as_f64().unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_snag_is_found_shown_and_saves_what_it_said() {
    let server = Server::new();
    let id = block(&server).await;
    let found = ended(&server, &format!("/api/jobs/{id}/plan/snags")).await;
    assert_eq!(found["state"], "ready", "{found}");
    let snags = found["snags"].as_array().unwrap();
    let trifle = snags
        .iter()
        .position(|s| s["sort"] == "trifle")
        .expect("the line");
    let snag = &snags[trifle];
    assert_eq!(snag["regions"], json!(["line"]));
    let facets = get(
        &server,
        &format!("/api/jobs/{id}/plan/snags/{trifle}/facets"),
    )
    .await;
    assert!(
        !facets["runs"][0].as_array().unwrap().is_empty(),
        "{facets}"
    );
    let before = server.plan(id).await["plan"]["bill"].clone();
    let (status, _) = server.edit(id, snag["edit"].clone()).await;
    assert_eq!(status, StatusCode::OK);
    let after = server.plan(id).await["plan"]["bill"].clone();
    let said = snag["saves"]["swaps"].as_i64().unwrap();
    let swaps = |bill: &Value| bill["swaps"].as_i64().unwrap();
    assert_eq!(swaps(&before) - swaps(&after), said);
    let grams = snag["saves"]["waste_g"].as_f64().unwrap();
    assert!((waste(&before) - waste(&after) - grams).abs() < 1e-9);
    // The old list is not that of the new revision.
    let (status, _) = server
        .call(
            "GET",
            &format!("/api/jobs/{id}/plan/snags/{trifle}/facets"),
            "",
        )
        .await;
    assert_eq!(status, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn ways_fill_in_and_choosing_one_brings_about_its_figures() {
    let server = Server::new();
    let id = block(&server).await;
    let view = ended(&server, &format!("/api/jobs/{id}/plan/ways")).await;
    assert_eq!(
        (view["state"].as_str(), view["done"].as_f64()),
        (Some("ready"), Some(1.0))
    );
    let ways = view["ways"].as_array().unwrap();
    for row in ways {
        assert!(
            row["figures"].is_object() != row["way"]["cannot"].is_string(),
            "{row}"
        );
    }
    for key in ["purge-bin", "machine-One nozzle, swaps by hand"] {
        let row = ways.iter().find(|w| w["way"]["key"] == key).expect(key);
        let (status, answer) = server.edit(id, row["way"]["edit"].clone()).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
        let bill = server.plan(id).await["plan"]["bill"].clone();
        assert_eq!(bill["swaps"], row["figures"]["swaps"], "{key}");
        if key == "purge-bin" {
            assert!((waste(&bill) - row["figures"]["waste_g"].as_f64().unwrap()).abs() < 1e-9);
        }
        let (status, _) = post(&server, &format!("/api/jobs/{id}/undo"), json!({})).await;
        assert_eq!(status, StatusCode::OK);
    }
}

/// Once the moves are made the bill has their time, and the ways are told by the same measure.
#[tokio::test(flavor = "multi_thread")]
async fn ways_are_told_in_the_time_of_the_bill() {
    let server = Server::new();
    let id = block(&server).await;
    let plan = format!("/api/jobs/{id}/plan");
    let ways = format!("{plan}/ways");
    let time = |view: &Value, key: &str| {
        let rows = view["ways"].as_array().expect("ways");
        let row = rows.iter().find(|w| w["way"]["key"] == key).expect(key);
        row["figures"]["time_s"].as_f64().expect("a time")
    };
    let before = ended(&server, &ways).await;
    let view = get(&server, &plan).await;
    assert!(view["moves_s"].is_null(), "{view}");
    let planned = view["plan"]["bill"]["time_s"].as_f64().expect("a time");
    assert!((time(&before, "now") - planned).abs() < 1e-9);
    let made = ended(&server, &format!("/api/jobs/{id}/moves")).await;
    let figures = made["figures"].as_array().expect("figures");
    let moves = figures.iter().find(|f| f["of"] == "time").expect("time");
    let view = get(&server, &plan).await;
    assert_eq!(view["moves_s"], moves["moves"]);
    let moves = moves["moves"].as_f64().expect("a time");
    assert!(moves > planned);
    let after = ended(&server, &ways).await;
    assert!((time(&after, "now") - moves).abs() < 1e-6);
    let later = time(&after, "pieces-4") - time(&before, "pieces-4");
    assert!((later - 4.0 * (moves - planned)).abs() < 1e-6, "{later}");
}

/// Where a change would be moved to is tried first; nothing changes by it, and the edit then gives the figures that were said.
#[tokio::test(flavor = "multi_thread")]
async fn a_change_that_is_still_moved_about_is_told_what_it_comes_to() {
    let server = Server::new();
    let id = block(&server).await;
    let change = |mm: f64| json!({ "edit": "give-change", "region": "lid", "from_mm": mm });
    let (status, view) = server.edit(id, change(4.0)).await;
    assert_eq!(status, StatusCode::OK, "{view}");
    server.plan(id).await;
    let number = view["changes"][0]["number"].clone();
    let moved = json!({ "edit": "change-edit", "number": number, "to": change(2.0) });
    let path = format!("/api/jobs/{id}/plan/try");
    let (status, figures) = post(&server, &path, moved.clone()).await;
    assert_eq!(status, StatusCode::OK, "{figures}");
    let now = get(&server, &format!("/api/jobs/{id}")).await;
    assert_eq!(now["revision"], view["revision"]);
    assert_eq!(server.edit(id, moved).await.0, StatusCode::OK);
    let bill = server.plan(id).await["plan"]["bill"].clone();
    for key in ["swaps", "purge_g", "time_s"] {
        assert_eq!(bill[key], figures[key], "{key}");
    }
    let (status, refused) = post(&server, &path, change(-5.0)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{refused}");
}

#[tokio::test(flavor = "multi_thread")]
async fn the_bill_opens_and_its_parts_sum_to_the_last_digit() {
    let server = Server::new();
    let id = block(&server).await;
    let sheet = get(&server, &format!("/api/jobs/{id}/plan/sheet")).await;
    let bill = server.plan(id).await["plan"]["bill"].clone();
    for line in sheet["lines"].as_array().unwrap() {
        let scale = 10f64.powi(line["digits"].as_i64().unwrap() as i32);
        let units = |v: &Value| (v.as_f64().unwrap() * scale).round() as i64;
        let sum: i64 = line["items"]
            .as_array()
            .unwrap()
            .iter()
            .map(|i| units(&i["amount"]))
            .sum();
        assert_eq!(sum, units(&line["total"]), "{line}");
    }
    let swaps = sheet["lines"]
        .as_array()
        .unwrap()
        .iter()
        .find(|l| l["figure"] == "swaps")
        .unwrap();
    assert_eq!(swaps["total"].as_f64(), bill["swaps"].as_f64());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calibration_is_fitted_refused_or_kept_with_the_printer() {
    let server = Server::new();
    let id = block(&server).await;
    let name = get(&server, &format!("/api/jobs/{id}")).await["printer"]["name"].clone();
    let path = format!("/api/jobs/{id}/plan/calibrate");
    let rinse = |clean_mm: f64| json!({ "from": "#101010", "to": "#f4f4f0", "clean_mm": clean_mm, "tolerance": 2.0 });
    let (status, fit) = post(
        &server,
        &path,
        json!({ "rinses": [rinse(180.0)], "keep": false }),
    )
    .await;
    assert_eq!(status, StatusCode::OK, "{fit}");
    let zone = fit["melt"]["volume_mm3"].as_f64().unwrap();
    assert!(fit["error_mm"].as_f64().unwrap() < 1e-3 && (40.0..60.0).contains(&zone));
    for (rinses, place) in [
        (json!([]), "rinses"),
        (json!([rinse(180.0), rinse(900.0)]), "rinse 2"),
        (json!([rinse(-1.0)]), "rinse 1"),
    ] {
        let (status, refused) =
            post(&server, &path, json!({ "rinses": rinses, "keep": true })).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{refused}");
        assert_eq!(
            (refused["code"].as_str(), refused["where"].as_str()),
            (Some("calibration-no-fit"), Some(place))
        );
    }
    let (status, _) = post(
        &server,
        &path,
        json!({ "rinses": [rinse(200.0)], "keep": true }),
    )
    .await;
    assert_eq!(status, StatusCode::OK);
    let job = get(&server, &format!("/api/jobs/{id}")).await;
    let kept = job["printer"]["melt"]["volume_mm3"].as_f64().unwrap();
    assert!((kept / zone - 200.0 / 180.0).abs() < 1e-6);
    assert_eq!(job["printer"]["rinses"].as_array().unwrap().len(), 1);
    let own = get(&server, "/api/printers").await;
    let known = own["printers"]
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["printer"]["name"] == name);
    assert_eq!(
        known.unwrap()["printer"]["melt"]["volume_mm3"].as_f64(),
        Some(kept)
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_known_time_sets_the_pace_of_the_printer() {
    let server = Server::new();
    let id = block(&server).await;
    let time = |plan: &Value| plan["plan"]["bill"]["time_s"].as_f64().unwrap();
    let before = time(&server.plan(id).await);
    let path = format!("/api/jobs/{id}/plan/known-time");
    let (status, refused) = post(&server, &path, json!({ "real_s": 1.0 })).await;
    assert_eq!(
        (status, refused["code"].as_str()),
        (StatusCode::UNPROCESSABLE_ENTITY, Some("time-no-fit"))
    );
    let (status, job) = post(&server, &path, json!({ "real_s": before + 900.0 })).await;
    assert_eq!(status, StatusCode::OK);
    assert!(job["printer"]["time_factor"].as_f64().unwrap() > 1.0);
    assert!((time(&server.plan(id).await) - before - 900.0).abs() < 1e-6);
}

#[tokio::test(flavor = "multi_thread")]
async fn searches_can_be_stopped_and_go_on_when_asked() {
    let mut server = Server::new();
    server.config.largest_file = 64 << 20;
    let bytes = stl(&subdivided_sphere(20.0, 6), "ball");
    let id = server.import_mesh("ball.stl", bytes).await;
    for edit in [
        json!({ "edit": "add-region", "region": "belt", "name": "Belt", "colour": "#171718", "slot": 2 }),
        json!({ "edit": "give-band", "region": "belt", "low_mm": 15.0, "high_mm": 25.0 }),
    ] {
        assert_eq!(server.edit(id, edit).await.0, StatusCode::OK);
    }
    loop {
        if server.plan(id).await["state"] == "ready" {
            break;
        }
    }
    let path = format!("/api/jobs/{id}/plan/ways");
    let view = get(&server, &path).await;
    assert_eq!(view["state"], "working");
    let (status, _) = post(
        &server,
        &format!("/api/jobs/{id}/plan/trials/stop"),
        json!({}),
    )
    .await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let stopped = get(&server, &path).await;
    assert_eq!(stopped["state"], "stopped");
    assert!(
        stopped["ways"]
            .as_array()
            .unwrap()
            .iter()
            .any(|w| w["figures"].is_null())
    );
    let again = get(&server, &format!("{path}?restart=true")).await;
    assert_eq!(again["state"], "working");
    // An edit makes the search one of an old revision; it ends, and the new one begins from nothing.
    let edit = json!({ "edit": "plan", "do": "quick", "is_quick": true });
    assert_eq!(server.edit(id, edit).await.0, StatusCode::OK);
    let revision = get(&server, &format!("/api/jobs/{id}")).await["revision"].clone();
    let view = get(&server, &path).await;
    assert_eq!(view["revision"], revision);
}
