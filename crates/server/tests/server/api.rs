//! The calls of the API, from a file to a bill, and what is refused.

use crate::serving::Server;
use axum::body::Body;
use axum::http::{Request, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, float_in_ring, stl};

fn lid() -> Value {
    json!({ "edit": "add-region", "region": "lid", "name": "Lid", "colour": "#c7452f" })
}

fn give_lid() -> Value {
    json!({
        "edit": "give-patch", "region": "lid", "crease_deg": 30,
        "at": { "model": "My box", "point": [5, 5, 10], "normal": [0, 0, 1] },
    })
}

#[tokio::test(flavor = "multi_thread")]
async fn a_job_goes_from_file_to_bill_and_back() {
    let server = Server::new();
    let id = server.import().await;
    let (_, job) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(
        (&job["name"], &job["can_undo"]),
        (&json!("My box"), &json!(false))
    );
    assert_eq!(server.plan(id).await["plan"]["bill"]["swaps"], 0);

    server.edit(id, lid()).await;
    let (status, job) = server.edit(id, give_lid()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(job["regions"][1]["facets"], 2);
    assert_eq!(job["regions"][1]["slot"], 2);
    let plan = server.plan(id).await;
    assert!(
        plan["plan"]["bill"]["swaps"].as_i64() > Some(0),
        "{}",
        plan["plan"]["bill"]
    );
    assert_eq!(plan["change"]["swaps"], plan["plan"]["bill"]["swaps"]);

    let (_, undone) = server
        .call("POST", &format!("/api/jobs/{id}/undo"), "")
        .await;
    assert_eq!(undone["regions"][1]["facets"], 0);
    assert_eq!(server.plan(id).await["plan"]["bill"]["swaps"], 0);
    let (_, redone) = server
        .call("POST", &format!("/api/jobs/{id}/redo"), "")
        .await;
    assert_eq!(redone["regions"][1]["facets"], 2);

    // A second server on the same file finds it all, undo and redo included.
    let again = Server::over(server).await;
    let (_, found) = again.call("GET", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(found["regions"], redone["regions"]);
    let (_, undone) = again
        .call("POST", &format!("/api/jobs/{id}/undo"), "")
        .await;
    assert_eq!(
        (&undone["can_undo"], &undone["can_redo"]),
        (&json!(true), &json!(true))
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn undo_stops_at_the_opening_of_the_model() {
    let server = Server::new();
    let id = server.import().await;
    let (status, problem) = server
        .call("POST", &format!("/api/jobs/{id}/undo"), "")
        .await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("nothing-to-undo"))
    );
}

#[rstest]
#[case::empty(Vec::new(), 422, "file-empty")]
#[case::text(b"a shopping list".to_vec(), 422, "file-unknown")]
#[case::cut_short(stl(&box_mesh([0.0; 3], [1.0; 3]), "x")[..400].to_vec(), 422, "stl-truncated")]
#[case::over_the_limit(stl(&float_in_ring(), "x"), 413, "file-too-large")]
#[tokio::test(flavor = "multi_thread")]
async fn a_bad_file_is_refused_and_the_shelf_stays(
    #[case] bytes: Vec<u8>,
    #[case] status: u16,
    #[case] code: &str,
) {
    let server = Server::new();
    let (got, problem) = server.call("POST", "/api/jobs?file=x.stl", bytes).await;
    assert_eq!(
        (got.as_u16(), problem["code"].as_str()),
        (status, Some(code)),
        "{problem}"
    );
    for part in ["message", "mend"] {
        assert!(
            problem[part].as_str().is_some_and(|t| t.len() > 8),
            "{problem}"
        );
    }
    assert_eq!(server.call("GET", "/api/jobs", "").await.1, json!([]));
}

#[rstest]
#[case::not_json("POST", "/api/jobs/1/edits", "{", 422, "edit-not-readable")]
#[case::unknown_field(
    "POST",
    "/api/jobs/1/edits",
    r#"{"edit":"rename-job","name":"a","by":1}"#,
    422,
    "edit-not-readable"
)]
#[case::unknown_spool(
    "POST",
    "/api/jobs/1/edits",
    r#"{"edit":"load-slot","slot":1,"spool":"gold"}"#,
    422,
    "spool-unknown"
)]
#[case::unknown_spool_among_several(
    "POST",
    "/api/jobs/1/edits",
    r#"{"edit":"several","what":"Two","edits":[{"edit":"rename-job","name":"a"},{"edit":"load","do":"bay","spools":{"2":"gold"}}]}"#,
    422,
    "spool-unknown"
)]
#[case::unknown_slot(
    "POST",
    "/api/jobs/1/edits",
    r#"{"edit":"load-slot","slot":9,"spool":null}"#,
    422,
    "slot-unknown"
)]
#[case::off_the_mesh("POST", "/api/jobs/1/edits", r#"{"edit":"give-part","region":"base","at":{"model":"My box","point":[0,0,99],"normal":[0,0,1]}}"#, 422, "place-off-the-mesh")]
#[case::no_such_job("GET", "/api/jobs/99", "", 404, "not-found")]
#[case::no_such_model("GET", "/api/jobs/1/models/7/mesh", "", 404, "not-found")]
#[case::no_such_file("GET", "/api/jobs/1/files/secrets.txt", "", 404, "not-found")]
#[case::no_such_call("GET", "/api/nothing", "", 404, "not-found")]
#[case::bad_crease(
    "GET",
    "/api/jobs/1/models/0/patches?crease=200",
    "",
    422,
    "crease-out-of-range"
)]
#[tokio::test(flavor = "multi_thread")]
async fn a_bad_call_says_what_where_and_what_to_do(
    #[case] method: &str,
    #[case] path: &str,
    #[case] body: &'static str,
    #[case] status: u16,
    #[case] code: &str,
) {
    let server = Server::new();
    let id = server.import().await;
    let before = server.call("GET", &format!("/api/jobs/{id}"), "").await.1;
    let (got, problem) = server.call(method, path, body).await;
    assert_eq!(
        (got.as_u16(), problem["code"].as_str()),
        (status, Some(code)),
        "{problem}"
    );
    assert_eq!(
        server.call("GET", &format!("/api/jobs/{id}"), "").await.1,
        before
    );
}

#[rstest]
#[case::this_machine("127.0.0.1:7360", None, 200)]
#[case::by_name("localhost:7360", Some("http://localhost:7360"), 200)]
#[case::another_host("varichrom.example:7360", None, 403)]
#[case::another_site("127.0.0.1:7360", Some("http://elsewhere.example"), 403)]
#[tokio::test(flavor = "multi_thread")]
async fn only_calls_from_here_are_let_in(
    #[case] host: &str,
    #[case] origin: Option<&str>,
    #[case] status: u16,
) {
    let server = Server::new();
    let mut request = Request::builder().uri("/api/jobs").header("host", host);
    if let Some(origin) = origin {
        request = request.header("origin", origin);
    }
    let (got, _) = server
        .send(request.body(Body::empty()).expect("a request"))
        .await;
    assert_eq!(got.as_u16(), status);
}

#[rstest]
#[case::none("", "/api/jobs", 403)]
#[case::wrong("Bearer guess", "/api/jobs", 403)]
#[case::right("Bearer s3cret of the shop", "/api/jobs", 200)]
#[case::in_the_address("", "/api/jobs?token=s3cret%20of%20the%20shop", 200)]
#[tokio::test(flavor = "multi_thread")]
async fn from_elsewhere_a_token_is_needed(
    #[case] bearer: &str,
    #[case] path: &str,
    #[case] status: u16,
) {
    let mut server = Server::new();
    server.config.address = "0.0.0.0".parse().expect("an address");
    assert!(
        varichrom_server::bind(&server.config).await.is_err(),
        "no token, no service"
    );
    server.config.token = Some("s3cret of the shop".into());
    let mut request = Request::builder()
        .uri(path)
        .header("host", "workshop.local:7360");
    if !bearer.is_empty() {
        request = request.header("authorization", bearer);
    }
    let (got, _) = server
        .send(request.body(Body::empty()).expect("a request"))
        .await;
    assert_eq!(got.as_u16(), status);
}

#[tokio::test(flavor = "multi_thread")]
async fn labels_patches_and_layers_belong_together() {
    let server = Server::new();
    let id = server.import().await;
    server.edit(id, lid()).await;
    server.edit(id, give_lid()).await;
    let get = async |path: &str| {
        let request = Request::builder().uri(path).header("host", "localhost");
        server
            .send(request.body(Body::empty()).expect("a request"))
            .await
            .1
    };
    let labels = get(&format!("/api/jobs/{id}/models/0/labels")).await;
    let labels: Vec<u16> = labels
        .chunks_exact(2)
        .map(|b| u16::from_le_bytes([b[0], b[1]]))
        .collect();
    assert_eq!(
        (labels.len(), labels.iter().filter(|l| **l == 1).count()),
        (12, 2)
    );
    let patches = get(&format!("/api/jobs/{id}/models/0/patches?crease=30")).await;
    assert_eq!(&patches[..4], b"VCP1");
    assert_eq!(
        u32::from_le_bytes([patches[12], patches[13], patches[14], patches[15]]),
        6
    );
    // 12 edges of the box are borders.
    assert_eq!(patches.len(), 20 + 4 * 12 + 32 * 12);

    server.plan(id).await;
    let (_, layer) = server
        .call("GET", &format!("/api/jobs/{id}/layers/49"), "")
        .await;
    let drawing = &layer["drawing"];
    let cells = drawing["cells"][0]
        .as_u64()
        .zip(drawing["cells"][1].as_u64())
        .expect("a grid");
    let runs = drawing["runs"].as_array().expect("runs");
    let count = |r: &Value| r["count"].as_u64().unwrap_or(0);
    assert_eq!(runs.iter().map(count).sum::<u64>(), cells.0 * cells.1);
    let top: u64 = runs.iter().filter(|r| r["region"] == 1).map(count).sum();
    let step = drawing["step_mm"].as_f64().expect("a step");
    // The top layer belongs to the lid but for the outermost tenth of a millimetre.
    assert!(
        (top as f64 * step * step - 19.8 * 19.8).abs() < 8.0,
        "{top} cells of {step} mm"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_deleted_job_is_gone_with_its_files() {
    let server = Server::new();
    let id = server.import().await;
    let (status, _) = server.call("DELETE", &format!("/api/jobs/{id}"), "").await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(
        server.call("GET", &format!("/api/jobs/{id}"), "").await.0,
        StatusCode::NOT_FOUND
    );
    assert_eq!(server.call("GET", "/api/jobs", "").await.1, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn planning_can_be_stopped_and_set_going_again() {
    let server = Server::new();
    let sphere = stl(&varichrom_demo::subdivided_sphere(28.0, 5), "sphere");
    let (status, job) = server
        .call("POST", "/api/jobs?file=sphere.stl", sphere[..].to_vec())
        .await;
    assert_eq!(status, StatusCode::CREATED, "{job}");
    let id = job["id"].as_i64().expect("an id");
    let (_, plan) = server
        .call("GET", &format!("/api/jobs/{id}/plan"), "")
        .await;
    assert_eq!(
        plan["state"], "working",
        "280 layers take longer than the moment a call waits"
    );
    assert!((0.0..1.0).contains(&plan["done"].as_f64().expect("a share")));
    let (status, problem) = server
        .call("GET", &format!("/api/jobs/{id}/files/plan.json"), "")
        .await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::CONFLICT, &json!("plan-not-ready"))
    );

    server
        .call("POST", &format!("/api/jobs/{id}/plan/stop"), "")
        .await;
    assert_eq!(server.plan(id).await["state"], "stopped");
    // It stays stopped until asked, or until there is an edit.
    assert_eq!(server.plan(id).await["state"], "stopped");
    server
        .call("POST", &format!("/api/jobs/{id}/plan/start"), "")
        .await;
    let again = server.plan(id).await;
    assert!(["ready", "stopped"].contains(&again["state"].as_str().expect("a state")));
    server
        .edit(id, json!({ "edit": "rename-job", "name": "Ball" }))
        .await;
    assert_eq!(server.plan(id).await["state"], "ready");
}

#[tokio::test(flavor = "multi_thread")]
async fn the_description_of_the_api_names_every_call() {
    let server = Server::new();
    let (_, document) = server.call("GET", "/api/openapi.json", "").await;
    let paths = document["paths"].as_object().expect("paths");
    for path in [
        "/api/jobs",
        "/api/jobs/{id}/edits",
        "/api/jobs/{id}/plan",
        "/api/rack",
    ] {
        assert!(paths.contains_key(path), "{path}");
    }
    assert!(paths.len() >= 15, "{} paths", paths.len());
    // All that is referred to is there, and an edit of a family that `edit` tells apart is told by nothing else.
    let schemas = &document["components"]["schemas"];
    let text = document.to_string();
    for name in text.split("\"#/components/schemas/").skip(1) {
        let name = name.split('"').next().expect("a name");
        assert!(schemas.get(name).is_some(), "{name} is not described");
    }
    let families = schemas["Edit"]["oneOf"].as_array().expect("families");
    assert_eq!(families.len(), 9);
    let within = families.iter().filter(|f| f["allOf"].is_array());
    assert_eq!(within.count(), 3);
    let kinds = schemas["GiveEdit"]["oneOf"].to_string();
    assert!(kinds.contains("give-band"), "{kinds}");
}
