//! Connections: how many, from whom, and how long they may take.

mod counts;
mod limits;
mod pace;
mod tls;
mod uploads;

pub(crate) use counts::{Counts, counted};
pub(crate) use pace::paced;
pub use tls::{Tls, make_certificate};
pub(crate) use uploads::Uploads;

use crate::app::{Config, router};
use crate::error::ApiError;
use crate::services::Workshop;
use axum::Router;
use axum::extract::Request;
use hyper::server::conn::{http1, http2};
use hyper_util::rt::{TokioExecutor, TokioIo, TokioTimer};
use limits::{Connections, Place};
use std::net::IpAddr;
use std::sync::Arc;
use std::time::Duration;
use tokio::io::{AsyncRead, AsyncWrite, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio_rustls::TlsAcceptor;
use tower::ServiceExt;

/// Longest wait for the head of a call, and longest rest between two calls of a connection.
const HEAD: Duration = Duration::from_secs(20);
/// Longest wait for a caller that does not take what it asked for.
const TAKING: Duration = Duration::from_secs(30);
/// Longest wait for the secrets of a connection to be agreed on.
const AGREEING: Duration = Duration::from_secs(10);

/// The address a call comes from.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Peer(pub(crate) IpAddr);

/// Serves until the process is told to stop.
///
/// # Errors
/// A sentence, if serving fails.
pub async fn serve(
    listener: TcpListener,
    workshop: Arc<Workshop>,
    config: &Config,
) -> Result<(), String> {
    let secrets = config.tls.as_ref().map(Tls::acceptor).transpose()?;
    let app = router(workshop.clone(), config);
    // Nothing is lost by going at once: every acknowledged edit is on the disk, and event streams never end.
    tokio::select! {
        () = take_in(listener, app, secrets) => Ok(()),
        () = told_to_stop() => Ok(()),
        () = workshop.upkeep() => Ok(()),
    }
}

/// Ctrl C, or what a service manager sends.
async fn told_to_stop() {
    #[cfg(unix)]
    {
        use tokio::signal::unix::{SignalKind, signal};
        if let Ok(mut end) = signal(SignalKind::terminate()) {
            tokio::select! {
                _ = end.recv() => {}
                _ = tokio::signal::ctrl_c() => {}
            }
            return;
        }
    }
    // If it cannot be heard, the process is only ended from outside.
    if tokio::signal::ctrl_c().await.is_err() {
        std::future::pending::<()>().await;
    }
}

/// Takes connections in, for ever.
async fn take_in(listener: TcpListener, app: Router, secrets: Option<TlsAcceptor>) {
    let connections = Connections::new();
    loop {
        let (stream, peer) = match listener.accept().await {
            Ok(accepted) => accepted,
            Err(e) => {
                // Out of file handles or the like: others end meanwhile.
                tracing::warn!("a connection could not be taken in: {e}");
                tokio::time::sleep(Duration::from_millis(200)).await;
                continue;
            }
        };
        let Some(place) = connections.place(peer.ip()) else {
            tokio::spawn(turn_away(stream, secrets.is_some()));
            continue;
        };
        // Small answers go out at once; without it they still go out.
        let _ = stream.set_nodelay(true);
        let (app, secrets) = (app.clone(), secrets.clone());
        tokio::spawn(async move {
            let mut stream = tokio_io_timeout::TimeoutStream::new(stream);
            stream.set_write_timeout(Some(TAKING));
            let stream = Box::pin(stream);
            match secrets {
                None => talk(stream, false, app, place).await,
                Some(secrets) => {
                    if let Ok(Ok(stream)) =
                        tokio::time::timeout(AGREEING, secrets.accept(stream)).await
                    {
                        let is_second = stream.get_ref().1.alpn_protocol() == Some(b"h2");
                        talk(stream, is_second, app, place).await;
                    }
                }
            }
        });
    }
}

/// Tells a caller for whom there is no room so, and lets it go.
async fn turn_away(mut stream: TcpStream, is_secret: bool) {
    if is_secret {
        return;
    }
    const AGAIN_S: u64 = 5;
    let (_, problem) = ApiError::TryAgain {
        why: "There is no room for another caller",
        again_s: AGAIN_S,
    }
    .told();
    let body = serde_json::to_string(&problem).unwrap_or_default();
    let answer = format!(
        "HTTP/1.1 503 Service Unavailable\r\nretry-after: {AGAIN_S}\r\nconnection: close\r\ncontent-type: application/json\r\ncontent-length: {}\r\n\r\n{body}",
        body.len()
    );
    // Whoever has gone meanwhile needs no answer.
    let _ = tokio::time::timeout(Duration::from_secs(1), stream.write_all(answer.as_bytes())).await;
}

/// Answers all calls of one connection, in the second version of the protocol if both agreed on that.
async fn talk<S: AsyncRead + AsyncWrite + Unpin + Send + 'static>(
    stream: S,
    is_second: bool,
    app: Router,
    place: Place,
) {
    let peer = Peer(place.peer());
    let calls = tower::service_fn(move |mut request: hyper::Request<hyper::body::Incoming>| {
        request.extensions_mut().insert(peer);
        let request: Request = request.map(axum::body::Body::new);
        app.clone().oneshot(request)
    });
    let calls = hyper_util::service::TowerToHyperService::new(calls);
    let stream = TokioIo::new(stream);
    // How a connection ends is no matter of the server's.
    let _ = match is_second {
        true => {
            http2::Builder::new(TokioExecutor::new())
                .timer(TokioTimer::new())
                .keep_alive_interval(HEAD)
                .keep_alive_timeout(HEAD)
                .serve_connection(stream, calls)
                .await
        }
        false => {
            http1::Builder::new()
                .timer(TokioTimer::new())
                .header_read_timeout(HEAD)
                .serve_connection(stream, calls)
                .await
        }
    };
    drop(place);
}
