//! What is acknowledged is kept, and what fails changes nothing.

use crate::serving::Server;
use axum::http::StatusCode;
use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use diesel::sqlite::SqliteConnection;
use serde_json::{Value, json};
use varichrom_demo::{box_mesh, stl};
use varichrom_server::Workshop;

fn database(server: &Server) -> SqliteConnection {
    let file = server.folder.path().join("varichrom.sqlite");
    let mut database = SqliteConnection::establish(&file.to_string_lossy()).expect("the database");
    // The server may be writing a state of a job just now.
    database
        .batch_execute("PRAGMA busy_timeout = 5000")
        .expect("patience");
    database
}

#[derive(diesel::QueryableByName)]
struct Count {
    #[diesel(sql_type = BigInt)]
    n: i64,
}

fn count(c: &mut SqliteConnection, table: &str) -> i64 {
    let found: Count = diesel::sql_query(format!("SELECT count(*) AS n FROM {table}"))
        .get_result(c)
        .expect("a count");
    found.n
}

fn region(key: &str) -> Value {
    json!({ "edit": "add-region", "region": key, "name": key, "colour": "#aa3322" })
}

async fn edits(server: &Server, id: i64) -> Vec<Value> {
    let (_, edits) = server
        .call("GET", &format!("/api/jobs/{id}/edits"), "")
        .await;
    edits.as_array().expect("edits").clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_failed_write_leaves_what_could_be_redone() {
    let server = Server::new();
    let id = server.import().await;
    for key in ["red", "blue"] {
        assert_eq!(server.edit(id, region(key)).await.0, StatusCode::OK);
    }
    let all = edits(&server, id).await;
    let (status, _) = server
        .call("POST", &format!("/api/jobs/{id}/undo"), "")
        .await;
    assert_eq!(status, StatusCode::OK);
    // Somebody else holds the file for longer than a call waits.
    let mut other = database(&server);
    other.batch_execute("BEGIN IMMEDIATE").expect("the lock");
    let (status, problem) = server.edit(id, region("green")).await;
    assert_eq!(status, StatusCode::INTERNAL_SERVER_ERROR, "{problem}");
    other.batch_execute("ROLLBACK").expect("let go");
    assert_eq!(edits(&server, id).await, all[..all.len() - 1]);
    let (status, _) = server
        .call("POST", &format!("/api/jobs/{id}/redo"), "")
        .await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(edits(&server, id).await, all);
    // What comes after does not run into what failed, not after a restart either.
    assert_eq!(server.edit(id, region("green")).await.0, StatusCode::OK);
    let all = edits(&server, id).await;
    let server = Server::over(server).await;
    assert_eq!(edits(&server, id).await, all);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_server_on_the_folder_is_refused_in_words() {
    let server = Server::new();
    let refused = Workshop::open(server.folder.path()).err().expect("refused");
    assert!(
        refused.contains("another Varichrom is using the folder"),
        "{refused}"
    );
    Server::over(server).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_is_not_in_the_store_opens_no_model() {
    let server = Server::new();
    let keeper = server.import().await;
    let other = stl(&box_mesh([0.0; 3], [5.0, 6.0, 7.0]), "other");
    let gone = server.import_mesh("other.stl", other).await;
    let content = edits(&server, gone).await[1]["content"].clone();
    let mut database = database(&server);
    assert_eq!(count(&mut database, "contents"), 2);
    // Opened, so that the mesh is remembered; then its job goes, and the file with it.
    server.plan(gone).await;
    let (status, _) = server
        .call("DELETE", &format!("/api/jobs/{gone}?for_good=true"), "")
        .await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(count(&mut database, "contents"), 1);
    let open =
        json!({ "edit": "open-model", "model": "Other", "file": "other.stl", "content": content });
    let (status, problem) = server.edit(keeper, open).await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("content-unknown"))
    );
    let server = Server::over(server).await;
    assert_eq!(server.plan(keeper).await["state"], "ready");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_job_of_a_newer_version_costs_that_job_alone() {
    let server = Server::new();
    let (old, new) = (server.import().await, server.import().await);
    server.plan(old).await;
    server.plan(new).await;
    let mut database = database(&server);
    let server = Server::over(server).await;
    for change in [
        "UPDATE jobs SET summary = '{\"shape\":\"cloud\"}' WHERE id = ?",
        "UPDATE edits SET body = '{\"edit\":\"dream\"}' WHERE seq = 1 AND job_id = ?",
    ] {
        diesel::sql_query(change)
            .bind::<BigInt, _>(new)
            .execute(&mut database)
            .expect("changed");
    }
    let (status, shelf) = server.call("GET", "/api/jobs", "").await;
    assert_eq!(status, StatusCode::OK);
    let line = |id: i64| {
        shelf
            .as_array()
            .unwrap()
            .iter()
            .find(|j| j["id"] == id)
            .unwrap()
    };
    assert!(
        line(new)["trouble"]
            .as_str()
            .unwrap()
            .contains("newer version")
    );
    assert!(line(old)["trouble"].is_null());
    let (status, problem) = server.call("GET", &format!("/api/jobs/{new}"), "").await;
    assert_eq!(
        (status, &problem["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("job-newer"))
    );
    assert_eq!(server.call("GET", "/api/rack", "").await.0, StatusCode::OK);
    assert_eq!(server.plan(old).await["state"], "ready");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_of_a_newer_make_is_refused_in_words() {
    let server = Server::new();
    diesel::sql_query("INSERT INTO __diesel_schema_migrations (version) VALUES (?)")
        .bind::<Text, _>("99990101000000")
        .execute(&mut database(&server))
        .expect("inserted");
    let Server {
        folder, workshop, ..
    } = server;
    drop(workshop);
    let refused = Workshop::open(folder.path()).err().expect("refused");
    assert!(refused.contains("newer version"), "{refused}");
}

#[tokio::test(flavor = "multi_thread")]
async fn spools_brought_in_at_once_are_all_there() {
    let server = Server::new();
    let one = |n: usize| {
        let server = &server;
        async move {
            let table = format!("id,name,colour,material\nnew-{n},New {n},#204030,PLA\n");
            server.call("POST", "/api/rack/rack.csv", table).await.0
        }
    };
    let (a, b, c, d) = tokio::join!(one(1), one(2), one(3), one(4));
    assert!(
        [a, b, c, d].iter().all(|s| *s == StatusCode::OK),
        "{a} {b} {c} {d}"
    );
    let (_, rack) = server.call("GET", "/api/rack", "").await;
    let has = |n: usize| {
        let id = format!("new-{n}");
        rack["spools"]
            .as_array()
            .unwrap()
            .iter()
            .any(|s| s["id"] == id.as_str())
    };
    assert!((1..=4).all(has));
}

#[tokio::test(flavor = "multi_thread")]
async fn revisions_never_fall() {
    let server = Server::new();
    let id = server.import().await;
    for key in ["red", "blue", "green"] {
        server.edit(id, region(key)).await;
    }
    server.plan(id).await;
    let revision = |view: &Value| view["revision"].as_u64().expect("a revision");
    let (_, before) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
    let server = Server::over(server).await;
    let (_, after) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
    assert!(revision(&after) >= revision(&before));
    let (_, edited) = server.edit(id, region("pink")).await;
    assert!(revision(&edited) > revision(&after));
}

#[tokio::test(flavor = "multi_thread")]
async fn calls_that_cannot_be_read_say_what_and_what_to_do() {
    let server = Server::new();
    let id = server.import().await;
    for (method, path, body, code) in [
        (
            "POST",
            format!("/api/jobs/{id}/edits"),
            "{",
            "edit-not-readable",
        ),
        ("POST", "/api/rack".into(), "{", "json-unreadable"),
        ("POST", "/api/rack".into(), "{\"colour\":1}", "json-unknown"),
        ("GET", "/api/jobs/one".into(), "", "address-unreadable"),
        (
            "GET",
            format!("/api/jobs/{id}/strays?smaller_mm2=much"),
            "",
            "query-unreadable",
        ),
    ] {
        let (status, problem) = server.call(method, &path, body).await;
        assert!(status.is_client_error(), "{path}: {status}");
        assert_eq!(problem["code"], code, "{path}: {problem}");
        for field in ["message", "mend"] {
            assert!(
                problem[field].as_str().is_some_and(|t| !t.is_empty()),
                "{path}: {problem}"
            );
        }
    }
}

/// A dab somewhere on the brick that the server's tests import.
fn dab(n: usize, top: [f64; 3]) -> Value {
    let at = [
        top[0] + (n % 9) as f64 * 0.6,
        top[1] + (n % 7) as f64 * 0.5,
        top[2],
    ];
    json!({
        "edit": "give-stroke", "region": if n.is_multiple_of(3) { "red" } else { "base" }, "reach": "dab",
        "stroke": { "model": "Block", "path": [at], "radius_mm": 0.8, "eye": [at[0], at[1], 300.0] }
    })
}

#[tokio::test(flavor = "multi_thread")]
async fn a_job_of_many_edits_opens_from_where_it_was_kept_and_the_edits_alone_count() {
    let server = Server::new();
    let block = stl(&box_mesh([0.0; 3], [20.0; 3]), "block");
    let id = server.import_mesh("block.stl", block).await;
    assert_eq!(server.edit(id, region("red")).await.0, StatusCode::OK);
    for n in 0..90 {
        let (status, said) = server.edit(id, dab(n, [5.0, 5.0, 20.0])).await;
        assert_eq!(status, StatusCode::OK, "{said}");
    }
    // They are kept behind the scenes.
    for _ in 0..200 {
        if count(&mut database(&server), "job_states") >= 2 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    let kept = count(&mut database(&server), "job_states");
    assert!(kept >= 2, "{kept} states");
    let look = async |server: &Server| {
        let (_, mut view) = server.call("GET", &format!("/api/jobs/{id}"), "").await;
        let labels = server
            .bytes(&format!("/api/jobs/{id}/models/0/labels"))
            .await;
        view["revision"] = Value::Null;
        (view, labels)
    };
    let before = look(&server).await;
    let server = Server::over(server).await;
    assert_eq!(look(&server).await, before);
    // Going far back and on again leads where it came from.
    let go = async |server: &Server, at: usize| {
        let body = json!({ "at": at }).to_string();
        let (status, said) = server
            .call("POST", &format!("/api/jobs/{id}/stand"), body)
            .await;
        assert_eq!(status, StatusCode::OK, "{said}");
    };
    let all = edits(&server, id).await.len();
    go(&server, all - 50).await;
    let middle = look(&server).await;
    go(&server, all).await;
    assert_eq!(look(&server).await, before);
    // States of other edits, and bytes that say nothing, are as good as none.
    let mut server = server;
    for harm in [
        "UPDATE job_states SET mark = 'x'",
        "UPDATE job_states SET body = x'00'",
    ] {
        database(&server).batch_execute(harm).expect("harmed");
        server = Server::over(server).await;
        assert_eq!(look(&server).await, before);
        go(&server, all - 50).await;
        assert_eq!(look(&server).await, middle);
        go(&server, all).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn the_opening_of_a_job_tells_how_far_it_is_and_can_be_stopped() {
    let server = Server::new();
    let block = stl(&box_mesh([0.0; 3], [20.0; 3]), "block");
    let id = server.import_mesh("block.stl", block).await;
    assert_eq!(server.edit(id, region("red")).await.0, StatusCode::OK);
    for n in 0..60 {
        assert_eq!(
            server.edit(id, dab(n, [5.0, 5.0, 20.0])).await.0,
            StatusCode::OK
        );
    }
    let all = edits(&server, id).await;
    let server = Server::over(server).await;
    database(&server)
        .batch_execute("DELETE FROM job_states")
        .expect("gone");
    let path = format!("/api/jobs/{id}");
    // Stopped as long as it goes on: whoever asks is told so.
    let stop = async {
        for _ in 0..20_000 {
            server.call("POST", &format!("{path}/edits/stop"), "").await;
            tokio::task::yield_now().await;
        }
    };
    let opened = tokio::select! {
        opened = server.call("GET", &path, "") => opened,
        () = stop => panic!("it neither opens nor stops"),
    };
    assert_eq!(
        (opened.0, &opened.1["code"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("stopped"))
    );
    // Asked again, it opens.
    assert_eq!(server.call("GET", &path, "").await.0, StatusCode::OK);
    assert_eq!(edits(&server, id).await, all);
}
