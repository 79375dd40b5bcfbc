//! What a server for others must hold: who is let in, what answers say to browsers, and how long callers may take.

use crate::serving::Server;
use axum::body::Body;
use axum::http::{HeaderMap, Request, StatusCode};
use rstest::rstest;
use serde_json::json;
use std::sync::Arc;
use std::time::{Duration, Instant};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tower::ServiceExt;
use varichrom_server::{May, Person, bind, make_certificate, read_people, router};

const ADA: &str = "ada's own & long";
const BEN: &str = "ben-looks-on-1";

fn served_to(people: &[(&str, &str, May)]) -> Server {
    let mut server = Server::new();
    server.config.address = "0.0.0.0".parse().expect("an address");
    let person = |(name, token, may): &(&str, &str, May)| Person {
        name: (*name).into(),
        token: (*token).into(),
        may: *may,
    };
    server.config.people = people.iter().map(person).collect();
    server
}

async fn answer(server: &Server, request: Request<Body>) -> (StatusCode, HeaderMap) {
    let router = router(server.workshop.clone(), &server.config);
    let answer = router.oneshot(request).await.expect("an answer");
    (answer.status(), answer.headers().clone())
}

fn get(path: &str) -> axum::http::request::Builder {
    Request::builder().uri(path).header("host", "localhost")
}

#[rstest]
#[case("/")]
#[case("/api/jobs")]
#[case("/api/nothing")]
#[case("/assets/nothing.js")]
#[tokio::test(flavor = "multi_thread")]
async fn every_answer_says_what_may_run_and_who_may_frame_it(#[case] path: &str) {
    let server = Server::new();
    let (_, said) = answer(&server, get(path).body(Body::empty()).expect("a request")).await;
    let of = |name: &str| {
        said.get(name)
            .and_then(|v| v.to_str().ok())
            .unwrap_or_default()
    };
    let policy = of("content-security-policy");
    let scripts = policy
        .split(';')
        .find(|p| p.trim().starts_with("script-src"));
    assert_eq!(
        scripts.map(str::trim),
        Some("script-src 'self'"),
        "{policy}"
    );
    assert!(policy.contains("frame-ancestors 'none'"), "{policy}");
    assert_eq!(of("x-content-type-options"), "nosniff");
    assert_eq!(of("referrer-policy"), "no-referrer");
    assert_eq!(of("cache-control") == "no-store", path.starts_with("/api/"));
}

#[rstest]
#[case::another_site(&[("sec-fetch-site", "cross-site")], "/api/jobs", 403)]
#[case::a_neighbour(&[("sec-fetch-site", "same-site")], "/api/jobs", 403)]
#[case::typed(&[("sec-fetch-site", "none")], "/api/jobs", 200)]
#[case::a_link_to_a_page(&[("sec-fetch-site", "cross-site")], "/jobs/1/colour", 200)]
#[case::two_hosts(&[("host", "elsewhere.example")], "/api/jobs", 403)]
#[case::another_host_by_origin(&[("origin", "http://elsewhere.example")], "/api/jobs", 403)]
#[tokio::test(flavor = "multi_thread")]
async fn calls_of_other_pages_and_hosts_are_not_let_in(
    #[case] headers: &[(&str, &str)],
    #[case] path: &str,
    #[case] status: u16,
) {
    let server = Server::new();
    let mut request = get(path);
    for (name, value) in headers {
        request = request.header(*name, *value);
    }
    let (got, _) = answer(&server, request.body(Body::empty()).expect("a request")).await;
    // Without a built page there is nothing to show, which is another matter.
    let is_page = !path.starts_with("/api/") && got == StatusCode::NOT_FOUND;
    assert!(got.as_u16() == status || is_page, "{got}");
}

#[tokio::test(flavor = "multi_thread")]
async fn an_own_loopback_address_and_a_named_host_are_served() {
    let mut server = Server::new();
    server.config.address = "127.0.0.2".parse().expect("an address");
    server.config.hosts = vec!["Workshop.example".into()];
    for (host, wanted) in [
        ("127.0.0.2:7360", 200),
        ("workshop.example", 200),
        ("other.example", 403),
    ] {
        let request = Request::builder().uri("/api/jobs").header("host", host);
        let (got, _) = answer(&server, request.body(Body::empty()).expect("a request")).await;
        assert_eq!(got.as_u16(), wanted, "{host}");
    }
}

#[rstest]
#[case::its_own("192.168.1.5", "192.168.1.5:7360", 200)]
#[case::its_own_of_the_sixth_version("fd00::5", "[fd00::5]:7360", 200)]
#[case::named("192.168.1.5", "workshop.example", 200)]
#[case::another("192.168.1.5", "other.example", 403)]
#[tokio::test(flavor = "multi_thread")]
async fn a_named_host_does_not_shut_the_own_address(
    #[case] address: &str,
    #[case] host: &str,
    #[case] status: u16,
) {
    let mut server = served_to(&[("Ada", ADA, May::Keep)]);
    server.config.address = address.parse().expect("an address");
    server.config.hosts = vec!["workshop.example".into()];
    let request = Request::builder()
        .uri("/api/jobs")
        .header("host", host)
        .header("authorization", format!("Bearer {ADA}"));
    let (got, _) = answer(&server, request.body(Body::empty()).expect("a request")).await;
    assert_eq!(got.as_u16(), status);
}

/// The second version of the protocol has the host in the address of a call and no line for it.
#[rstest]
#[case::own("https://localhost/api/people", None, "https://localhost", 200)]
#[case::another_site("https://localhost/api/people", None, "https://elsewhere.example", 403)]
#[case::another_host(
    "https://elsewhere.example/api/people",
    None,
    "https://elsewhere.example",
    403
)]
#[case::two_words(
    "https://localhost/api/people",
    Some("elsewhere.example"),
    "https://localhost",
    403
)]
#[tokio::test(flavor = "multi_thread")]
async fn the_host_is_found_where_either_version_says_it(
    #[case] uri: &str,
    #[case] host: Option<&str>,
    #[case] origin: &str,
    #[case] status: u16,
) {
    let server = Server::new();
    let mut request = Request::builder()
        .method("PUT")
        .uri(uri)
        .header("origin", origin)
        .header("content-type", "application/json");
    if let Some(host) = host {
        request = request.header("host", host);
    }
    let request = request.body(Body::from(r#"{"names":["Ada"]}"#));
    let (got, _) = answer(&server, request.expect("a request")).await;
    assert_eq!(got.as_u16(), status);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_token_given_is_asked_for_at_home_too_and_any_character_works_in_the_address() {
    let mut server = Server::new();
    server.config.token = Some("ä b&c=d#e/f?g%20".into());
    let request = get("/api/jobs").body(Body::empty()).expect("a request");
    assert_eq!(answer(&server, request).await.0, StatusCode::FORBIDDEN);
    let token = varichrom_server::token_in_address("ä b&c=d#e/f?g%20");
    let request = get(&format!("/api/jobs?token={token}"));
    let (status, said) = answer(&server, request.body(Body::empty()).expect("a request")).await;
    assert_eq!(status, StatusCode::OK);
    let cookie = said
        .get("set-cookie")
        .and_then(|c| c.to_str().ok())
        .expect("a cookie");
    assert!(
        cookie.contains("HttpOnly") && cookie.contains("SameSite=Strict"),
        "{cookie}"
    );
    let kept = cookie.split(';').next().expect("its value").to_string();
    let request = get("/api/jobs").header("cookie", kept);
    let (status, _) = answer(&server, request.body(Body::empty()).expect("a request")).await;
    assert_eq!(status, StatusCode::OK);
    for short in ["", "short"] {
        server.config.address = "0.0.0.0".parse().expect("an address");
        server.config.token = Some(short.into());
        assert!(bind(&server.config).await.is_err(), "{short:?}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn wrong_tokens_are_slowed_down_and_do_not_find_the_right_one() {
    let server = served_to(&[("Ada", ADA, May::Keep)]);
    let app = router(server.workshop.clone(), &server.config);
    let with = async |token: &str| {
        let request = get("/api/jobs").header("authorization", format!("Bearer {token}"));
        let request = request.body(Body::empty()).expect("a request");
        let answer = app.clone().oneshot(request).await.expect("an answer");
        (
            answer.status(),
            answer.headers().contains_key("retry-after"),
        )
    };
    for n in 0..6 {
        assert_eq!(with(&format!("guess {n}")).await.0, StatusCode::FORBIDDEN);
    }
    // From then on nothing is compared for a while: not even the right one is told from a wrong one.
    assert_eq!(with(ADA).await, (StatusCode::SERVICE_UNAVAILABLE, true));
    tokio::time::sleep(Duration::from_millis(1300)).await;
    assert_eq!(with(ADA).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_left_open_with_an_old_token_does_not_keep_its_owner_out() {
    let server = served_to(&[("Ada", ADA, May::Keep)]);
    let app = router(server.workshop.clone(), &server.config);
    for n in 0..40 {
        for (token, status) in [("the token of last week", 403), (ADA, 200)] {
            let request = get("/api/jobs").header("authorization", format!("Bearer {token}"));
            let request = request.body(Body::empty()).expect("a request");
            let answer = app.clone().oneshot(request).await.expect("an answer");
            assert_eq!(answer.status().as_u16(), status, "call {n}");
        }
    }
    // Without the owner in between, it is the same.
    for _ in 0..40 {
        let request = get("/api/jobs").header("authorization", "Bearer the token of last week");
        let request = request.body(Body::empty()).expect("a request");
        let answer = app.clone().oneshot(request).await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::FORBIDDEN);
    }
}

#[rstest]
#[case::looks(BEN, "GET", "/api/jobs", "", 200)]
#[case::does_not_work(
    BEN,
    "POST",
    "/api/jobs/assemble",
    r#"{"staged":[1],"arrangement":"together"}"#,
    403
)]
#[case::does_not_keep(BEN, "PUT", "/api/people", r#"{"names":["Ben"]}"#, 403)]
#[case::keeps(ADA, "PUT", "/api/people", r#"{"names":["Ada","Ben"]}"#, 200)]
#[tokio::test(flavor = "multi_thread")]
async fn people_do_what_they_may(
    #[case] token: &str,
    #[case] method: &str,
    #[case] path: &str,
    #[case] body: &'static str,
    #[case] status: u16,
) {
    let server = served_to(&[("Ada", ADA, May::Keep), ("Ben", BEN, May::Look)]);
    let request = Request::builder()
        .method(method)
        .uri(path)
        .header("host", "workshop.example")
        .header("authorization", format!("Bearer {token}"))
        .header("content-type", "application/json")
        .body(Body::from(body))
        .expect("a request");
    assert_eq!(answer(&server, request).await.0.as_u16(), status);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_word_before_a_print_is_said_under_ones_own_name() {
    let cleo = "cleo works here";
    let server = served_to(&[("Ada", ADA, May::Release), ("Cleo", cleo, May::Work)]);
    let bytes = varichrom_demo::stl(&varichrom_demo::box_mesh([0.0; 3], [20.0; 3]), "box");
    let summary = server
        .workshop
        .import("box.stl", None, None, &bytes, None, &[])
        .expect("a job");
    let say = async |token: &str, said: serde_json::Value| {
        let path = format!("/api/jobs/{}/release?revision=1", summary.id);
        let request = Request::builder()
            .method("POST")
            .uri(path)
            .header("host", "workshop.example")
            .header("authorization", format!("Bearer {token}"))
            .header("content-type", "application/json")
            .body(Body::from(said.to_string()))
            .expect("a request");
        server.send(request).await
    };
    let (status, _) = say(cleo, json!({ "do": "release", "by": "Ada" })).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    let (status, view) = say(cleo, json!({ "do": "ask", "by": "Ada", "of": null })).await;
    let view = String::from_utf8_lossy(&view).into_owned();
    assert_eq!(status, StatusCode::OK, "{view}");
    assert!(
        view.contains("\"by\":\"Cleo\"") && !view.contains("\"by\":\"Ada\""),
        "{view}"
    );
}

#[rstest]
#[case::no_list("{}")]
#[case::short(r#"[{"name":"A","token":"short","may":"work"}]"#)]
#[case::no_name(r#"[{"name":" ","token":"long enough token","may":"work"}]"#)]
#[case::unknown(r#"[{"name":"A","token":"long enough token","may":"everything"}]"#)]
#[case::twice(r#"[{"name":"A","token":"long enough token","may":"look"},{"name":"B","token":"long enough token","may":"keep"}]"#)]
fn a_list_of_people_that_would_let_the_wrong_ones_in_is_refused(#[case] json: &str) {
    let refused = read_people(json).expect_err("refused");
    // No token is in what is said of it.
    assert!(!refused.contains("long enough token"), "{refused}");
}

/// Whether the server closes a connection within a time.
async fn closes(stream: &mut TcpStream, within: Duration) -> bool {
    let mut all = Vec::new();
    tokio::time::timeout(within, stream.read_to_end(&mut all))
        .await
        .is_ok()
}

#[tokio::test(flavor = "multi_thread")]
async fn slow_callers_are_let_go_and_others_are_answered_meanwhile() {
    let mut server = Server::new();
    let (address, _) = server.serve().await;
    let half_heads = [
        "GET / HTTP/1.1\r\nHost: loc",
        "",
        // A body that comes a byte at a time.
        "POST /api/staged?file=a.stl HTTP/1.1\r\nHost: localhost\r\nContent-Length: 100000\r\n\r\n",
    ];
    let mut slow = Vec::new();
    for n in 0..300 {
        let mut stream = TcpStream::connect(&address).await.expect("a connection");
        stream
            .write_all(half_heads[n % 3].as_bytes())
            .await
            .expect("sent");
        slow.push(stream);
    }
    let began = Instant::now();
    let called = call_by_hand(&address).await;
    assert!(called.starts_with("HTTP/1.1 200"), "{called}");
    let mut closing = tokio::task::JoinSet::new();
    for mut stream in slow {
        closing.spawn(async move {
            for _ in 0..10 {
                if closes(&mut stream, Duration::from_secs(3)).await {
                    return true;
                }
                // Fails once it is closed, which is what is waited for.
                let _ = stream.write_all(b"x").await;
            }
            false
        });
    }
    let closed = closing
        .join_all()
        .await
        .into_iter()
        .filter(|is| *is)
        .count();
    assert_eq!(closed, 300, "after {:?}", began.elapsed());
}

/// One call by hand.
async fn call_by_hand(address: &str) -> String {
    let mut stream = TcpStream::connect(address).await.expect("a connection");
    let call = "GET /api/jobs HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n";
    stream.write_all(call.as_bytes()).await.expect("sent");
    let mut all = Vec::new();
    stream.read_to_end(&mut all).await.expect("an answer");
    String::from_utf8_lossy(&all).into_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn an_own_certificate_is_made_once_and_plain_calls_get_nothing() {
    let mut server = Server::new();
    let folder = server.folder.path().join("certificate");
    let names = ["localhost".to_string()];
    let tls = make_certificate(&folder, &names).expect("a certificate");
    let first = std::fs::read(&tls.certificate).expect("its file");
    make_certificate(&folder, &names).expect("the same");
    assert_eq!(std::fs::read(&tls.certificate).expect("its file"), first);
    server.config.tls = Some(tls);
    let (address, _) = server.serve().await;
    assert_eq!(by_tls(&address, &first).await, StatusCode::OK);
    let mut stream = TcpStream::connect(&address).await.expect("a connection");
    stream
        .write_all(b"GET /api/jobs HTTP/1.1\r\nHost: localhost\r\n\r\n")
        .await
        .expect("sent");
    let mut all = Vec::new();
    // However it ends, no job is told.
    let _ = tokio::time::timeout(Duration::from_secs(5), stream.read_to_end(&mut all)).await;
    assert!(!String::from_utf8_lossy(&all).contains("HTTP/1.1 200"));
}

#[tokio::test(flavor = "multi_thread")]
async fn health_status_and_counts_say_how_it_is_without_names() {
    let server = Server::new();
    let id = server.import().await;
    let (status, view) = server.call("GET", "/api/status", "").await;
    assert_eq!(
        (status, &view["jobs"], &view["is_store_sound"]),
        (StatusCode::OK, &json!(1), &json!(true))
    );
    assert_eq!(server.bytes("/api/health").await.0, StatusCode::OK);
    let app = router(server.workshop.clone(), &server.config);
    for path in [format!("/api/jobs/{id}"), "/api/metrics".into()] {
        let request = get(&path).body(Body::empty()).expect("a request");
        let answer = app.clone().oneshot(request).await.expect("an answer");
        if path.ends_with("metrics") {
            let text = axum::body::to_bytes(answer.into_body(), 1 << 20)
                .await
                .expect("a text");
            let text = String::from_utf8_lossy(&text);
            let line = "varichrom_call_seconds_count{method=\"GET\",path=\"/api/jobs/{id}\",status=\"200\"} 1";
            assert!(text.contains(line), "{text}");
            assert!(!text.contains("My box"), "{text}");
        }
    }
}

/// The status of a call that changes something, made as a browser would that trusts the certificate: by TLS, in the second
/// version of the protocol, from the server's own page.
async fn by_tls(address: &str, certificate: &[u8]) -> StatusCode {
    use tokio_rustls::rustls::pki_types::{CertificateDer, ServerName, pem::PemObject};
    use tokio_rustls::rustls::{ClientConfig, RootCertStore, crypto::ring};
    let mut trusted = RootCertStore::empty();
    let own = CertificateDer::from_pem_slice(certificate).expect("a certificate");
    trusted.add(own).expect("it can be trusted");
    let mut config = ClientConfig::builder_with_provider(Arc::new(ring::default_provider()))
        .with_safe_default_protocol_versions()
        .expect("versions")
        .with_root_certificates(trusted)
        .with_no_client_auth();
    config.alpn_protocols = vec![b"h2".to_vec()];
    let stream = TcpStream::connect(address).await.expect("a connection");
    let name = ServerName::try_from("localhost").expect("a name");
    let connector = tokio_rustls::TlsConnector::from(Arc::new(config));
    let stream = connector.connect(name, stream).await.expect("agreed");
    let io = hyper_util::rt::TokioIo::new(stream);
    let executor = hyper_util::rt::TokioExecutor::new();
    let (mut sender, connection) = hyper::client::conn::http2::handshake(executor, io)
        .await
        .expect("they talk");
    tokio::spawn(connection);
    let request = Request::builder()
        .method("PUT")
        .uri("https://localhost/api/people")
        .header("origin", "https://localhost")
        .header("content-type", "application/json")
        .body(r#"{"names":["Ada"]}"#.to_string())
        .expect("a request");
    sender
        .send_request(request)
        .await
        .expect("an answer")
        .status()
}
