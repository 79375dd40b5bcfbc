//! Drawings laid on models: as one step however often they are moved, and never with what is not there.

use crate::serving::Server;
use axum::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};

fn words(text: &str, x: f64, instead_of: Option<u64>) -> Value {
    json!({
        "drawing": { "is": "words", "words": { "text": text, "height_mm": 4.0 } },
        "laying": { "at": [x, 5.0, 10.0], "on": { "how": "flat", "facing": [0, 0, 1] } },
        "inks": [{ "to": "new" }],
        "model": null, "relief": null, "instead_of": instead_of,
    })
}

async fn lay(server: &Server, id: i64, asked: &Value) -> (StatusCode, Value) {
    let path = format!("/api/jobs/{id}/lay");
    server.call("POST", &path, asked.to_string()).await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_moved_about_stays_one_step_and_keeps_its_region() {
    let server = Server::new();
    let id = server.import().await;
    let (status, first) = lay(&server, id, &words("H", 4.0, None)).await;
    assert_eq!(status, StatusCode::OK, "{first}");
    let step = first["step"].as_u64().expect("a step");
    let keys = |job: &Value| -> Vec<String> {
        let regions = job["regions"].as_array().expect("regions");
        let key = |r: &Value| r["key"].as_str().map(String::from);
        regions.iter().filter_map(key).collect()
    };
    for x in [4.5, 5.0, 5.5] {
        let (status, moved) = lay(&server, id, &words("H", x, Some(step))).await;
        assert_eq!(status, StatusCode::OK, "{moved}");
        assert_eq!(moved["step"].as_u64(), Some(step));
        assert_eq!(keys(&moved), keys(&first));
    }
    // What is refused leaves what lies there.
    let (status, refused) = lay(&server, id, &words("H", 400.0, Some(step))).await;
    assert_eq!(
        (status, &refused["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("laying-misses"))
    );
    let (_, edits) = server
        .call("GET", &format!("/api/jobs/{id}/edits"), "")
        .await;
    let newest = edits.as_array().and_then(|e| e.last()).expect("an edit");
    assert!(newest.to_string().contains("5.5"), "{newest}");
    let (status, refused) = lay(&server, id, &words("H", 5.0, Some(77))).await;
    assert_eq!(
        (status, &refused["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("step-unknown"))
    );
}

#[rstest]
#[case::content(
    json!({ "edit": "give-drawing", "regions": ["base"],
        "drawing": { "is": "file", "file": "it.svg", "content": "0123", "options": {} },
        "laying": { "at": [5.0, 5.0, 10.0], "on": { "how": "flat", "facing": [0, 0, 1] } } }),
    "content-unknown"
)]
#[case::spool(json!({ "edit": "load-slot", "slot": 1, "spool": "nobody" }), "spool-unknown")]
#[tokio::test(flavor = "multi_thread")]
async fn an_edit_that_names_what_is_not_there_takes_no_step_s_place(
    #[case] edit: Value,
    #[case] code: &str,
) {
    let server = Server::new();
    let id = server.import().await;
    let (_, laid) = lay(&server, id, &words("H", 5.0, None)).await;
    let step = laid["step"].as_u64().expect("a step");
    let path = format!("/api/jobs/{id}/edits?instead_of={step}");
    let (status, refused) = server.call("POST", &path, edit.to_string()).await;
    assert_eq!(
        (status, &refused["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!(code)),
        "{refused}"
    );
    let (_, now) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(now["step"].as_u64(), Some(step));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_project_carries_the_drawings_that_are_laid() {
    let here = Server::new();
    let id = here.import().await;
    let svg = "<svg xmlns='http://www.w3.org/2000/svg' width='6mm' height='6mm' viewBox='0 0 6 6'><rect id='Tile' width='6' height='6' fill='#203550'/></svg>";
    let (status, staged) = here
        .call("POST", "/api/staged?file=tile.svg", svg.to_string())
        .await;
    assert_eq!(status, StatusCode::CREATED, "{staged}");
    let mut asked = words("", 5.0, None);
    let options = json!({ "width_mm": null, "colours": null, "steps": 1, "specks_mm2": 0.5, "smooth_mm": 0.05 });
    asked["drawing"] = json!({ "is": "staged", "staged": staged["id"], "options": options });
    let (status, laid) = lay(&here, id, &asked).await;
    assert_eq!(status, StatusCode::OK, "{laid}");
    let areas = |job: &Value| -> Vec<Value> {
        let regions = job["regions"].as_array().expect("regions");
        regions.iter().map(|r| r["surface_share"].clone()).collect()
    };
    let (_, project) = here
        .bytes(&format!("/api/jobs/{id}/files/project.zip"))
        .await;
    let elsewhere = Server::new();
    let opened = elsewhere.import_mesh("tiled.zip", project).await;
    let (_, job) = elsewhere
        .call("GET", &format!("/api/jobs/{opened}"), "")
        .await;
    assert_eq!(areas(&job), areas(&laid));
}
