//! Copies of a data folder, brought back and looked over.

use crate::serving::Server;
use axum::http::StatusCode;
use std::path::Path;
use varichrom_server::{Workshop, backup, doctor, restore};

/// Damages a file from some place on, as a bad disk would.
fn damage(file: &Path, from: usize) {
    let mut bytes = std::fs::read(file).expect("the file");
    bytes[from..].iter_mut().for_each(|b| *b = !*b);
    std::fs::write(file, bytes).expect("written");
}

async fn count(server: &Server) -> usize {
    let (status, shelf) = server.call("GET", "/api/jobs", "").await;
    assert_eq!(status, StatusCode::OK);
    shelf.as_array().map_or(0, Vec::len)
}

async fn let_go(server: Server) -> tempfile::TempDir {
    let server = Server::over(server).await;
    let Server {
        folder, workshop, ..
    } = server;
    drop(workshop);
    for _ in 0..200 {
        if doctor(folder.path()).is_ok() {
            return folder;
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    panic!("the folder stays in use");
}

fn again(folder: &Path) -> usize {
    let workshop = Workshop::open(folder).expect("opens");
    workshop.shelf().expect("a shelf").len()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_copy_made_while_serving_brings_everything_back() {
    let server = Server::new();
    server.import().await;
    let aside = tempfile::tempdir().expect("a folder");
    let copy = aside.path().join("copy.sqlite");
    backup(server.folder.path(), &copy).expect("a copy");
    assert!(
        backup(server.folder.path(), &copy).is_err(),
        "it would be written over"
    );
    // Served as it is, it cannot be replaced.
    assert!(restore(server.folder.path(), &copy).is_err());
    server.import().await;
    assert_eq!(count(&server).await, 2);
    let folder = let_go(server).await;
    let kept = restore(folder.path(), &copy)
        .expect("brought back")
        .expect("what was there");
    assert_eq!(again(folder.path()), 1);
    // And what was there is not lost either.
    restore(folder.path(), &kept).expect("brought back");
    assert_eq!(again(folder.path()), 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_no_sound_copy_is_refused_and_changes_nothing() {
    let server = Server::new();
    server.import().await;
    let folder = let_go(server).await;
    let aside = tempfile::tempdir().expect("a folder");
    let text = aside.path().join("text.sqlite");
    std::fs::write(
        &text,
        "no database at all, but long enough to look like one",
    )
    .expect("written");
    let torn = aside.path().join("torn.sqlite");
    backup(folder.path(), &torn).expect("a copy");
    damage(&torn, 8192);
    for bad in [&text, &torn, &aside.path().join("none.sqlite")] {
        assert!(restore(folder.path(), bad).is_err(), "{}", bad.display());
    }
    assert_eq!(again(folder.path()), 1);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_damaged_database_is_not_served_and_the_copy_of_the_day_brings_it_back() {
    let mut server = Server::new();
    server.import().await;
    // The copy of the day is made by a server that runs.
    let (_, serving) = server.serve().await;
    let copies = server.folder.path().join("copies");
    let day = loop {
        let found = std::fs::read_dir(&copies).ok().and_then(|files| {
            files
                .filter_map(|f| Some(f.ok()?.path()))
                .find(|p| p.extension().is_some_and(|e| e == "sqlite"))
        });
        match found {
            Some(found) => break found,
            None => tokio::time::sleep(std::time::Duration::from_millis(20)).await,
        }
    };
    serving.abort();
    let folder = let_go(server).await;
    let file = folder.path().join("varichrom.sqlite");
    for log in ["varichrom.sqlite-wal", "varichrom.sqlite-shm"] {
        // There may be none.
        let _ = std::fs::remove_file(folder.path().join(log));
    }
    damage(&file, 8192);
    let refused = Workshop::open(folder.path())
        .map(|_| ())
        .expect_err("refused");
    assert!(refused.contains("varichrom"), "{refused}");
    let found = doctor(folder.path());
    assert!(found.is_err() || found.is_ok_and(|f| f.iter().any(|f| f.mended.is_none())));
    restore(folder.path(), &day).expect("brought back");
    assert_eq!(again(folder.path()), 1);
    assert_eq!(doctor(folder.path()).expect("looked over"), Vec::new());
}
