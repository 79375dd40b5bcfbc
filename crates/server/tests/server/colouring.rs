//! What the Colour stage asks besides edits: previews, strays, steps, replays, the desk, palettes.

use crate::serving::Server;
use axum::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};

fn lid() -> Value {
    json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#c7452f" })
}

fn top() -> Value {
    json!({ "model": "My box", "point": [5, 5, 10], "normal": [0, 0, 1] })
}

fn dab(region: &str, x: f64, radius_mm: f64) -> Value {
    json!({ "edit": "give-stroke", "region": region, "reach": "dab", "stroke": {
        "model": "My box", "path": [[x, 5.0, 10.0]], "radius_mm": radius_mm, "eye": [5.0, 5.0, 90.0],
    }})
}

async fn get(server: &Server, path: &str) -> Value {
    let (status, value) = server.call("GET", path, "").await;
    assert_eq!(status, StatusCode::OK, "{path}: {value}");
    value
}

/// A job of a box with a region and a dab of 2 mm on its lid.
async fn painted(server: &Server) -> i64 {
    let id = server.import().await;
    for edit in [lid(), dab("lid", 5.0, 2.0)] {
        let (status, answer) = server.edit(id, edit).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
    }
    id
}

#[tokio::test(flavor = "multi_thread")]
async fn a_preview_shows_what_an_edit_takes_and_changes_nothing() {
    let server = Server::new();
    let id = server.import().await;
    server.edit(id, lid()).await;
    let before = get(&server, &format!("/api/jobs/{id}")).await;
    let edit = json!({ "edit": "give-relief", "region": "lid", "crease_deg": 30, "at": top() });
    let path = format!("/api/jobs/{id}/preview");
    let (status, seen) = server.call("POST", &path, edit.to_string()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(seen["area_mm2"].as_f64().expect("an area") > 50.0);
    let runs = seen["runs"][0].as_array().expect("runs");
    let pieces: u64 = runs.iter().filter_map(|r| r[1].as_u64()).sum();
    assert_eq!(seen["pieces"].as_u64(), Some(pieces));
    // Bands say where they will be cut: on borders of layers.
    let band = json!({ "edit": "give-band", "region": "lid", "low_mm": 1.03, "high_mm": 2.11, "snap": true });
    let (_, seen) = server.call("POST", &path, band.to_string()).await;
    assert_eq!(seen["bands"], json!([[1.0, 2.2]]));
    let bad = json!({ "edit": "give-relief", "region": "lid", "crease_deg": 300, "at": top() });
    let (status, problem) = server.call("POST", &path, bad.to_string()).await;
    assert_eq!(
        (status, &problem["code"]),
        (
            StatusCode::UNPROCESSABLE_ENTITY,
            &json!("crease-out-of-range")
        )
    );
    assert_eq!(get(&server, &format!("/api/jobs/{id}")).await, before);
}

#[tokio::test(flavor = "multi_thread")]
async fn divided_facets_travel_beside_the_labels() {
    let server = Server::new();
    let id = painted(&server).await;
    let bytes = async |what: &str| {
        let request = axum::http::Request::get(format!("/api/jobs/{id}/models/0/{what}"))
            .header("host", "127.0.0.1");
        let (status, bytes) = server
            .send(request.body(axum::body::Body::empty()).expect("a call"))
            .await;
        assert_eq!(status, StatusCode::OK);
        bytes
    };
    let labels = bytes("labels").await;
    let labels: Vec<u16> = labels
        .chunks_exact(2)
        .map(|c| u16::from_le_bytes([c[0], c[1]]))
        .collect();
    let divided = labels.iter().filter(|l| **l == u16::MAX).count();
    // The two facets of the lid, and neighbours that share their points.
    assert!((2..=12).contains(&divided), "{divided}");
    let divisions = bytes("divisions").await;
    let word =
        |at: usize| u32::from_le_bytes(divisions[at..at + 4].try_into().expect("four bytes"));
    assert_eq!(&divisions[..4], b"VCD1");
    let count = word(8) as usize;
    assert_eq!(divisions.len(), 20 + 66 * count);
    // Area of the triangles of region 1, from the bytes alone: the disc.
    let float = |at: usize| f64::from(f32::from_bits(word(at)));
    let mut area = 0.0;
    for t in 0..count {
        let region = &divisions[20 + 64 * count + 2 * t..];
        if region[0] != 1 {
            continue;
        }
        let c: Vec<f64> = (0..9)
            .map(|i| float(20 + 4 * count + 36 * t + 4 * i))
            .collect();
        area += 0.5 * ((c[3] - c[0]) * (c[7] - c[1]) - (c[6] - c[0]) * (c[4] - c[1]));
    }
    assert!(
        (area - 4.0 * std::f64::consts::PI).abs() < 0.05 * 4.0 * std::f64::consts::PI,
        "{area}"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn steps_are_told_gone_to_and_given_other_numbers_across_restarts() {
    let server = Server::new();
    let id = painted(&server).await;
    server.edit(id, dab("lid", 2.0, 0.5)).await;
    let steps = get(&server, &format!("/api/jobs/{id}/steps")).await;
    let list = steps["steps"].as_array().expect("steps");
    let floor = steps["floor"].as_u64().expect("a floor") as usize;
    assert_eq!(list.len(), floor + 3);
    assert_eq!(list[floor + 1]["what"], "Dab of 2 mm to Lid");
    let stand = format!("/api/jobs/{id}/stand");
    let (status, job) = server
        .call("POST", &stand, json!({ "at": floor + 1 }).to_string())
        .await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(
        (&job["can_redo"], &job["regions"][1]["facets"]),
        (&json!(true), &json!(0))
    );
    for at in [floor as i64 - 1, 99] {
        let (status, problem) = server
            .call("POST", &stand, json!({ "at": at }).to_string())
            .await;
        assert_eq!(
            (status, &problem["code"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!("step-unknown"))
        );
    }
    let (_, job) = server
        .call("POST", &stand, json!({ "at": floor + 3 }).to_string())
        .await;
    let share = |job: &Value| {
        job["regions"][1]["surface_share"]
            .as_f64()
            .expect("a share")
    };
    let before = share(&job);
    let change = json!({ "edit": "change-edit", "number": floor + 2, "to": dab("lid", 5.0, 1.0) });
    let (status, job) = server.edit(id, change).await;
    assert_eq!(status, StatusCode::OK, "{job}");
    assert!(share(&job) < 0.5 * before);
    let after = share(&job);
    let server = Server::over(server).await;
    let found = get(&server, &format!("/api/jobs/{id}")).await;
    assert_eq!(share(&found), after);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_recipe_replays_here_and_says_what_found_no_place() {
    let server = Server::new();
    let id = painted(&server).await;
    let far = json!({ "edit": "give-stroke", "region": "lid", "reach": "dip", "stroke": {
        "model": "theirs", "path": [[500, 0, 0]], "radius_mm": 1, "eye": [0, 0, 90],
    }});
    let mut near = dab("lid", 2.0, 0.5);
    near["stroke"]["model"] = json!("theirs");
    let recipe = json!({
        "name": "Theirs", "models": [{ "model": "theirs", "file": "theirs.stl" }], "edits": [far, near],
    });
    let path = format!("/api/jobs/{id}/replay");
    let (status, done) = server.call("POST", &path, recipe.to_string()).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(done["applied"], 1);
    assert_eq!(done["left_out"][0]["number"], 1);
    assert_eq!(done["left_out"][0]["why"]["code"], "stroke-off-the-mesh");
    let (status, problem) = server.call("POST", &path, "{").await;
    assert_eq!(
        (status, &problem["code"]),
        (
            StatusCode::UNPROCESSABLE_ENTITY,
            &json!("recipe-not-readable")
        )
    );
    // What this job gives as a recipe holds all its edits, and can be read back.
    let own = get(&server, &format!("/api/jobs/{id}/files/recipe.json")).await;
    assert_eq!(own["models"][0]["model"], "My box");
    let last = own["edits"]
        .as_array()
        .and_then(|e| e.last())
        .expect("edits");
    assert_eq!(last["stroke"]["model"], "My box");
}

#[tokio::test(flavor = "multi_thread")]
async fn strays_are_listed_with_their_places() {
    let server = Server::new();
    let id = painted(&server).await;
    server.edit(id, dab("own", 5.0, 0.5)).await;
    let strays = get(
        &server,
        &format!("/api/jobs/{id}/strays?smaller=2&narrower=0"),
    )
    .await;
    assert_eq!(strays.as_array().map(Vec::len), Some(1));
    assert_eq!(
        (&strays[0]["model"], &strays[0]["stray"]["kind"]),
        (&json!("My box"), &json!("uncoloured"))
    );
    let stray = &strays[0]["stray"];
    let at = json!({ "model": "My box", "point": stray["point"], "normal": stray["normal"] });
    let (status, _) = server
        .edit(id, json!({ "edit": "give-stray", "at": at }))
        .await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(
        get(
            &server,
            &format!("/api/jobs/{id}/strays?smaller=2&narrower=0")
        )
        .await,
        json!([])
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn desk_and_palettes_are_kept_and_go_with_their_job() {
    let server = Server::new();
    let id = server.import().await;
    let desk = json!({
        "view": { "eye": [1.0, 2.0, 3.0], "target": [0.0, 0.0, 0.0] },
        "picture": { "name": "scheme.png", "data": "data:image/png;base64,AAAA" },
        "ticked": ["1 chalk"],
    });
    let path = format!("/api/jobs/{id}/desk");
    assert_eq!(
        get(&server, &path).await,
        json!({ "view": null, "picture": null, "ticked": [] })
    );
    let (status, _) = server.call("PUT", &path, desk.to_string()).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let server = Server::over(server).await;
    assert_eq!(get(&server, &path).await, desk);
    let all = json!({ "palettes": [{ "name": "Quay", "colours": [{ "name": "Rust", "colour": "#c7452f" }] }] });
    let (status, _) = server.call("PUT", "/api/palettes", all.to_string()).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(get(&server, "/api/palettes").await, all);
    let (status, _) = server.call("DELETE", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(get(&server, "/api/palettes").await, all);
}

#[rstest]
#[case::twice(json!({ "palettes": [{ "name": "A", "colours": [] }, { "name": "A", "colours": [] }] }), "palette-exists")]
#[case::nameless(json!({ "palettes": [{ "name": " ", "colours": [] }] }), "palette")]
#[tokio::test(flavor = "multi_thread")]
async fn a_bad_palette_is_refused(#[case] all: Value, #[case] code: &str) {
    let server = Server::new();
    let (status, problem) = server.call("PUT", "/api/palettes", all.to_string()).await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!(code))
    );
    assert_eq!(
        get(&server, "/api/palettes").await,
        json!({ "palettes": [] })
    );
}
