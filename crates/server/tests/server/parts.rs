//! What is asked about parts besides edits: who meets whom, what an edit would make, the depths of a region.

use crate::serving::Server;
use axum::http::StatusCode;
use serde_json::{Value, json};
use std::time::Duration;
use varichrom_core::mesh::Mesh;
use varichrom_demo::{box_mesh, stl, subdivided_sphere, together};

async fn get(server: &Server, path: &str) -> Value {
    let (status, value) = server.call("GET", path, "").await;
    assert_eq!(status, StatusCode::OK, "{path}: {value}");
    value
}

/// Two boxes that share 5 × 10 × 10 mm.
fn crossing() -> Mesh {
    together(&[
        box_mesh([0.0; 3], [10.0; 3]),
        box_mesh([5.0, 0.5, 0.0], [15.0, 9.5, 8.0]),
    ])
}

async fn meetings(server: &Server, id: i64) -> Value {
    for _ in 0..200 {
        let view = get(server, &format!("/api/jobs/{id}/parts/meetings")).await;
        if view["state"] != "working" {
            return view;
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    panic!("it never ends");
}

#[tokio::test(flavor = "multi_thread")]
async fn overlaps_are_listed_shown_and_follow_the_order() {
    let server = Server::new();
    let id = server
        .import_mesh("crossing.stl", stl(&crossing(), "crossing"))
        .await;
    let view = meetings(&server, id).await;
    let pair = &view["pairs"][0];
    assert_eq!(pair["meeting"]["is"], "overlap", "{view}");
    let volume = pair["meeting"]["volume_mm3"].as_f64().unwrap();
    assert!((volume - 5.0 * 9.0 * 8.0).abs() < 1e-3, "{volume}");
    let (a, b) = (&pair["parts"][0], &pair["parts"][1]);
    let (status, bytes) = server
        .bytes(&format!("/api/jobs/{id}/parts/shared/{a}/{b}"))
        .await;
    assert_eq!(status, StatusCode::OK);
    assert!(
        bytes.len() >= 12 * 36 && bytes.len() % 36 == 0,
        "{}",
        bytes.len()
    );
    let job = get(&server, &format!("/api/jobs/{id}")).await;
    let place = |key: &Value| {
        let parts = job["models"][0]["parts"].as_array().unwrap();
        let part = parts.iter().find(|p| p["key"] == *key).unwrap();
        json!({ "model": job["models"][0]["name"], "point": part["point"], "normal": part["normal"] })
    };
    let order =
        json!({ "edit": "part", "do": "order", "at": place(b), "beside": place(a), "above": true });
    let (status, answer) = server.edit(id, order).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    assert_eq!(
        meetings(&server, id).await["pairs"][0]["parts"],
        json!([b, a])
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn an_edit_of_parts_is_tried_without_being_made() {
    let server = Server::new();
    let id = server
        .import_mesh("crossing.stl", stl(&crossing(), "crossing"))
        .await;
    let before = get(&server, &format!("/api/jobs/{id}")).await;
    let at =
        json!({ "model": before["models"][0]["name"], "point": [1, 1, 10], "normal": [0, 0, 1] });
    let path = format!("/api/jobs/{id}/parts/try");
    let cut = json!({ "edit": { "do": "cut", "at": at, "plane": { "by": "height", "mm": 4 } } });
    let (status, tried) = server.call("POST", &path, cut.to_string()).await;
    assert_eq!(status, StatusCode::OK, "{tried}");
    let parts = tried["parts"].as_array().unwrap();
    assert_eq!(
        (parts.len(), &parts[0]["is_new"], &parts[1]["is_new"]),
        (2, &json!(true), &json!(false))
    );
    assert!((parts[0]["volume_mm3"].as_f64().unwrap() - 600.0).abs() < 1e-3);
    assert_eq!(tried["corners"].as_array().unwrap().len() % 9, 0);
    let miss = json!({ "edit": { "do": "cut", "at": at, "plane": { "by": "height", "mm": 40 } } });
    let (status, problem) = server.call("POST", &path, miss.to_string()).await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("cut-misses"))
    );
    assert_eq!(get(&server, &format!("/api/jobs/{id}")).await, before);
}

#[tokio::test(flavor = "multi_thread")]
async fn the_depths_of_a_region_are_planned_in_full_and_hiding_ends_the_shine() {
    let server = Server::new();
    let id = server.import().await;
    let top = json!({ "model": "My box", "point": [5, 5, 10], "normal": [0, 0, 1] });
    for edit in [
        json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#f4f4f0" }),
        json!({ "edit": "recolour-region", "region": "base", "colour": "#101010" }),
        json!({ "edit": "give-patch", "region": "lid", "at": top, "crease_deg": 30 }),
    ] {
        let (status, answer) = server.edit(id, edit).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
    }
    // Rows come one by one, the shallowest first, and stay.
    let mut rows = 0;
    let found = loop {
        let url = format!("/api/jobs/{id}/regions/lid/depths?most=6&tolerance=2");
        let mut found = get(&server, &url).await;
        let table = found["table"].take();
        let now = table["choices"].as_array().unwrap().len();
        assert!(now >= rows, "{table}");
        rows = now;
        match found["state"].as_str().unwrap() {
            "ready" => break table,
            "waiting" => drop(server.plan(id).await),
            state => assert_eq!(state, "working"),
        }
    };
    // Stopped or not, what is planned stays, and begins again only when asked.
    let url = format!("/api/jobs/{id}/regions/lid/depths?most=7&tolerance=2");
    get(&server, &url).await;
    let stop = format!("/api/jobs/{id}/plan/trials/stop");
    server.call("POST", &stop, "").await;
    let state = get(&server, &url).await["state"].take();
    assert!(state == "stopped" || state == "ready", "{state}");
    let again = get(&server, &format!("{url}&restart=true")).await;
    assert_ne!(again["state"], "stopped");
    let choices = found["choices"].as_array().unwrap();
    assert_eq!(choices.len(), 6);
    // A top n layers deep swaps in each of its layers; the colour below shines through less and less.
    let of = |n: usize, what: &str| choices[n][what].as_f64().unwrap();
    for n in 1..6 {
        assert!(of(n, "swaps") >= of(n - 1, "swaps"), "{found}");
        assert!(of(n, "shows") < of(n - 1, "shows"), "{found}");
    }
    let least = found["least_mm"].as_f64().unwrap();
    for choice in choices {
        let hides = choice["shows"].as_f64().unwrap() <= 2.0;
        assert_eq!(hides, choice["mm"].as_f64().unwrap() >= least, "{found}");
    }
    let (status, _) = server
        .call(
            "GET",
            &format!("/api/jobs/{id}/regions/lid/depths?most=900&tolerance=2"),
            "",
        )
        .await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_long_edit_of_parts_is_stopped_and_leaves_the_job_as_it_was() {
    let mut server = Server::new();
    server.config.largest_file = 1 << 24;
    let ball = stl(&subdivided_sphere(20.0, 6), "ball");
    let id = server.import_mesh("ball.stl", ball).await;
    let model = get(&server, &format!("/api/jobs/{id}")).await["models"][0]["name"].take();
    for edit in [
        json!({ "edit": "add-region", "region": "cap", "name": "Cap", "colour": "#c7452f" }),
        json!({ "edit": "give-band", "region": "cap", "low_mm": 25, "high_mm": 60 }),
    ] {
        let (status, answer) = server.edit(id, edit).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
    }
    let before = get(&server, &format!("/api/jobs/{id}")).await;
    // So deep that it folds: the deepest that works is looked for, again and again.
    let at = json!({ "model": model, "point": [0, 0, 20], "normal": [0, 0, 1] });
    let deep = json!({ "edit": "part", "do": "from-region", "region": "cap", "at": at, "depth": { "depth": "mm", "mm": 39 } });
    let edit = server.edit(id, deep);
    tokio::pin!(edit);
    let stop = format!("/api/jobs/{id}/edits/stop");
    let (status, problem) = loop {
        tokio::select! {
            done = &mut edit => break done,
            () = tokio::time::sleep(Duration::from_millis(20)) => {
                let (status, _) = server.call("POST", &stop, "").await;
                assert_eq!(status, StatusCode::NO_CONTENT);
            }
        }
    };
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("stopped")),
        "{problem}"
    );
    assert_eq!(get(&server, &format!("/api/jobs/{id}")).await, before);
}
