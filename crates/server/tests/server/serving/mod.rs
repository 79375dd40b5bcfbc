//! The real router on a fresh database file.

use axum::body::Body;
use axum::http::{Request, StatusCode};
use http_body_util::BodyExt;
use serde_json::Value;
use std::sync::Arc;
use tempfile::TempDir;
use tower::ServiceExt;
use varichrom_demo::{box_mesh, rack, stl};
use varichrom_server::{Config, Workshop, bind, router, serve};

pub(crate) struct Server {
    pub(crate) config: Config,
    pub(crate) folder: TempDir,
    pub(crate) workshop: Arc<Workshop>,
}

impl Server {
    pub(crate) fn new() -> Server {
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

    /// The server that comes after another one, on its database.
    pub(crate) async fn over(other: Server) -> Server {
        let Server {
            config,
            folder,
            workshop,
        } = other;
        drop(workshop);
        // What goes on in the background lets go of the folder when it is done.
        for _ in 0..500 {
            if let Ok(workshop) = Workshop::open(folder.path()) {
                return Server {
                    config,
                    folder,
                    workshop,
                };
            }
            tokio::time::sleep(std::time::Duration::from_millis(20)).await;
        }
        panic!("the folder stays in use");
    }

    /// Serves at a real address until what is returned is aborted.
    pub(crate) async fn serve(&mut self) -> (String, tokio::task::JoinHandle<()>) {
        self.config.port = 0;
        let listener = bind(&self.config).await.expect("an address");
        let address = listener.local_addr().expect("an address").to_string();
        let (workshop, config) = (self.workshop.clone(), self.config.clone());
        let serving = tokio::spawn(async move {
            serve(listener, workshop, &config).await.expect("it serves");
        });
        (address, serving)
    }

    pub(crate) async fn send(&self, request: Request<Body>) -> (StatusCode, Vec<u8>) {
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

    pub(crate) async fn call(
        &self,
        method: &str,
        path: &str,
        body: impl Into<Body>,
    ) -> (StatusCode, Value) {
        let request = Request::builder()
            .method(method)
            .uri(path)
            .header("host", "127.0.0.1:7360")
            .header("content-type", "application/json")
            .body(body.into())
            .expect("a request");
        let (status, bytes) = self.send(request).await;
        (
            status,
            serde_json::from_slice(&bytes).unwrap_or(Value::Null),
        )
    }

    pub(crate) async fn import(&self) -> i64 {
        let bytes = stl(&box_mesh([0.0; 3], [20.0, 20.0, 10.0]), "box");
        self.import_mesh("my_box.stl", bytes).await
    }

    pub(crate) async fn import_mesh(&self, file: &str, bytes: Vec<u8>) -> i64 {
        let path = format!("/api/jobs?file={file}");
        let (status, job) = self.call("POST", &path, bytes).await;
        assert_eq!(status, StatusCode::CREATED, "{job}");
        job["id"].as_i64().expect("an id")
    }

    pub(crate) async fn bytes(&self, path: &str) -> (StatusCode, Vec<u8>) {
        let request = Request::builder()
            .uri(path)
            .header("host", "127.0.0.1:7360")
            .body(Body::empty())
            .expect("a request");
        self.send(request).await
    }

    pub(crate) async fn edit(&self, id: i64, edit: Value) -> (StatusCode, Value) {
        self.call("POST", &format!("/api/jobs/{id}/edits"), edit.to_string())
            .await
    }

    pub(crate) async fn plan(&self, id: i64) -> Value {
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
