//! The real router on a fresh database file.

use axum::body::Body;
use axum::http::{Request, StatusCode};
use http_body_util::BodyExt;
use rstest::rstest;
use serde_json::{Value, json};
use std::sync::Arc;
use tempfile::TempDir;
use tower::ServiceExt;
use varichrom_demo::{box_mesh, float_in_ring, rack, stl};
use varichrom_server::{Config, Workshop, router};

struct Server {
    config: Config,
    folder: TempDir,
    workshop: Arc<Workshop>,
}

impl Server {
    fn new() -> Server {
        let folder = tempfile::tempdir().expect("a folder");
        let workshop = Workshop::open(folder.path()).expect("a fresh database");
        workshop.set_rack(&rack()).expect("the demo's rack");
        Server {
            config: Config {
                largest_file: 1 << 20,
                ..Config::default()
            },
            folder,
            workshop,
        }
    }

    async fn send(&self, request: Request<Body>) -> (StatusCode, Vec<u8>) {
        let answer = router(self.workshop.clone(), &self.config)
            .oneshot(request)
            .await
            .expect("an answer");
        let status = answer.status();
        (
            status,
            answer
                .into_body()
                .collect()
                .await
                .expect("a body")
                .to_bytes()
                .to_vec(),
        )
    }

    async fn call(&self, method: &str, path: &str, body: impl Into<Body>) -> (StatusCode, Value) {
        let request = Request::builder()
            .method(method)
            .uri(path)
            .header("host", "127.0.0.1:7360")
            .body(body.into())
            .expect("a request");
        let (status, bytes) = self.send(request).await;
        (
            status,
            serde_json::from_slice(&bytes).unwrap_or(Value::Null),
        )
    }

    async fn import(&self) -> i64 {
        let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), "box");
        let (status, job) = self.call("POST", "/api/jobs?file=my_box.stl", bytes).await;
        assert_eq!(status, StatusCode::CREATED, "{job}");
        job["id"].as_i64().expect("an id")
    }

    async fn edit(&self, id: i64, edit: Value) -> (StatusCode, Value) {
        self.call("POST", &format!("/api/jobs/{id}/edits"), edit.to_string())
            .await
    }

    async fn plan(&self, id: i64) -> Value {
        for _ in 0..200 {
            let (status, plan) = self.call("GET", &format!("/api/jobs/{id}/plan"), "").await;
            assert_eq!(status, StatusCode::OK);
            if plan["state"] != "working" {
                return plan;
            }
        }
        panic!("the plan of a box takes this long");
    }
}

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
    let again = Server {
        workshop: Workshop::open(server.folder.path()).expect("the same database"),
        folder: tempfile::tempdir().expect("a folder"),
        config: server.config.clone(),
    };
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
#[case::right("Bearer s3cret", "/api/jobs", 200)]
#[case::in_the_address("", "/api/jobs?token=s3cret", 200)]
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
    server.config.token = Some("s3cret".into());
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
}

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
    let again = Workshop::open(server.folder.path()).expect("the same database");
    for workshop in [server.workshop.clone(), again] {
        let server = Server {
            config: server.config.clone(),
            folder: tempfile::tempdir().expect("a folder"),
            workshop,
        };
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
    let again = Workshop::open(server.folder.path()).expect("the same database");
    let server = Server {
        config: server.config.clone(),
        folder: tempfile::tempdir().expect("a folder"),
        workshop: again,
    };
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
