//! Files staged, made into jobs, added, mended and replaced.

use crate::serving::Server;
use axum::body::Body;
use axum::http::{Request, StatusCode};
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, stl};

/// Stages a file and waits until it is open or refused.
async fn stage(server: &Server, file: &str, bytes: Vec<u8>, beside: &str) -> Value {
    let path = format!("/api/staged?file={file}&beside={beside}");
    let (status, staged) = server.call("POST", &path, bytes).await;
    assert_eq!(status, StatusCode::CREATED, "{staged}");
    for _ in 0..100 {
        let (_, now) = server
            .call(
                "GET",
                &format!("/api/staged/{}", staged["id"]),
                Body::empty(),
            )
            .await;
        if now["state"]["state"] != "opening" {
            return now;
        }
    }
    panic!("{file} is never open");
}

async fn post(server: &Server, path: &str, body: Value) -> (StatusCode, Value) {
    let request = Request::builder()
        .method("POST")
        .uri(path)
        .header("host", "127.0.0.1:7360")
        .header("content-type", "application/json")
        .body(Body::from(body.to_string()))
        .expect("a request");
    let (status, bytes) = server.send(request).await;
    (
        status,
        serde_json::from_slice(&bytes).unwrap_or(Value::Null),
    )
}

#[tokio::test]
async fn files_are_staged_and_become_a_set_that_survives_a_restart() {
    let server = Server::new();
    let base = box_mesh([0.0; 3], [20.0, 20.0, 4.0]);
    let paint = stage(&server, "pot.mtl", b"newmtl clay\nKd 1 0 0\n".to_vec(), "").await;
    assert_eq!(paint["state"]["state"], "beside");
    let text = [
        b"mtllib pot.mtl\nusemtl clay\n".to_vec(),
        varichrom_demo::obj(&box_mesh([5.0, 5.0, 4.0], [15.0, 15.0, 9.0]), "Pot"),
    ]
    .concat();
    let pot = stage(&server, "pot.obj", text, &paint["id"].to_string()).await;
    assert_eq!(pot["state"]["has_colours"], true);
    let saucer = stage(&server, "saucer.stl", stl(&base, "saucer"), "").await;
    let bad = stage(&server, "half.stl", stl(&base, "half")[..200].to_vec(), "").await;
    assert_eq!(bad["state"]["problem"]["code"], "stl-truncated");
    let asked = json!({ "staged": [saucer["id"], pot["id"]], "arrangement": "together" });
    let (status, jobs) = post(&server, "/api/jobs/assemble", asked).await;
    assert_eq!(status, StatusCode::CREATED, "{jobs}");
    let id = jobs[0]["id"].as_i64().expect("an id");
    let mut server = server;
    for is_restarted in [false, true] {
        if is_restarted {
            server = Server::over(server).await;
        }
        let (_, job) = server
            .call("GET", &format!("/api/jobs/{id}"), Body::empty())
            .await;
        assert_eq!(job["models"][1]["parts"][0]["name"], "Pot");
        assert_eq!(job["models"][1]["low_mm"], json!([5.0, 5.0, 4.0]));
        assert_eq!(job["regions"][1]["name"], "clay");
        assert_eq!(job["regions"][1]["colour"], "#ff0000");
        assert_eq!(job["can_undo"], false);
    }
    // The files that were taken are forgotten.
    let path = format!("/api/staged/{}", pot["id"]);
    let (status, _) = server.call("GET", &path, Body::empty()).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn models_are_added_mended_and_replaced() {
    let server = Server::new();
    let id = server.import().await;
    let mut open_box = box_mesh([30.0, 0.0, 0.0], [40.0, 10.0, 10.0]);
    open_box.facets.pop();
    let file = stage(&server, "my_box.stl", stl(&open_box, "x"), "").await;
    let asked = json!({ "staged": [file["id"]], "arrangement": "apart" });
    let (status, job) = post(&server, &format!("/api/jobs/{id}/models"), asked).await;
    assert_eq!(status, StatusCode::OK, "{job}");
    // Two files of one name: the second model gets a number.
    assert_eq!(job["models"][1]["name"], "My box 2");
    assert_eq!(job["models"][1]["closed"], false);
    let path = format!("/api/jobs/{id}/models/1/defects/open-edge");
    let (_, places) = server.call("GET", &path, Body::empty()).await;
    assert_eq!(places.as_array().map(Vec::len), Some(1));
    assert_eq!(places[0]["count"], 3);
    let mending = json!({ "holes_mm": 20.0 });
    let path = format!("/api/jobs/{id}/models/1/mend-preview");
    let (_, preview) = post(&server, &path, mending.clone()).await;
    assert_eq!(
        (&preview["report"]["holes"], &preview["closed"]),
        (&json!(1), &json!(true))
    );
    let edit = json!({ "edit": "mend", "model": "My box 2", "mending": mending });
    let (_, job) = server.edit(id, edit).await;
    assert_eq!(job["models"][1]["closed"], true);
    let before = job["models"][1]["mesh_key"].clone();
    // A plan that is being made while facets come and go is made anew, never from old layers with new labels.
    for step in ["undo", "redo", "undo", "redo", "undo", "redo"] {
        let path = format!("/api/jobs/{id}/{step}");
        let (status, _) = server.call("POST", &path, Body::empty()).await;
        assert_eq!(status, StatusCode::OK);
    }
    let plan = server.plan(id).await;
    assert!(
        plan["plan"]["bill"]["model_g"]
            .as_f64()
            .is_some_and(|g| g > 0.0),
        "{plan}"
    );
    let new = stage(
        &server,
        "taller.stl",
        stl(&box_mesh([0.0; 3], [10.0, 10.0, 30.0]), "x"),
        "",
    )
    .await;
    let path = format!("/api/jobs/{id}/models/1/revise");
    let (status, job) = post(&server, &path, json!({ "staged": new["id"] })).await;
    assert_eq!(status, StatusCode::OK, "{job}");
    assert_eq!(job["models"][1]["file"], "taller.stl");
    assert_ne!(job["models"][1]["mesh_key"], before);
    // The new version has nothing to mend, and that is said.
    assert_eq!(job["lost"][0]["why"]["code"], "mend-nothing");
    let (_, split) = server
        .call(
            "GET",
            &format!("/api/jobs/{id}/models/1/split?crease=30"),
            Body::empty(),
        )
        .await;
    assert_eq!(split["routes"][0]["kind"], "patches");
    let server = Server::over(server).await;
    let (_, kept) = server
        .call("GET", &format!("/api/jobs/{id}"), Body::empty())
        .await;
    assert_eq!(kept["models"][1]["file"], "taller.stl");
    assert_eq!(kept["lost"], job["lost"]);
}

#[tokio::test]
async fn a_file_that_is_not_open_makes_no_job() {
    let server = Server::new();
    let bad = stage(&server, "noise.stl", vec![7; 900], "").await;
    let asked = json!({ "staged": [bad["id"]], "arrangement": "together" });
    let (status, problem) = post(&server, "/api/jobs/assemble", asked).await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("file-unknown"))
    );
    let (status, _) = post(
        &server,
        "/api/jobs/assemble",
        json!({ "staged": [], "arrangement": "each" }),
    )
    .await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let (_, shelf) = server.call("GET", "/api/jobs", Body::empty()).await;
    assert_eq!(shelf, json!([]));
}

#[tokio::test]
async fn the_opening_of_a_file_can_be_stopped() {
    let mut server = Server::new();
    server.config.largest_file = 64 << 20;
    // Large enough to be still at it when the stop comes; if it is quicker, it is forgotten all the same.
    let sphere = varichrom_demo::subdivided_sphere(30.0, 7);
    let bytes = varichrom_demo::obj(&sphere, "ball");
    let (_, staged) = server
        .call("POST", "/api/staged?file=ball.obj", bytes)
        .await;
    let path = format!("/api/staged/{}", staged["id"]);
    let (status, _) = server.call("DELETE", &path, Body::empty()).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let (status, _) = server.call("GET", &path, Body::empty()).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let asked = json!({ "staged": [staged["id"]], "arrangement": "together" });
    let (status, _) = post(&server, "/api/jobs/assemble", asked).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (_, shelf) = server.call("GET", "/api/jobs", Body::empty()).await;
    assert_eq!(shelf, json!([]));
}
