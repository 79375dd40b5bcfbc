//! Bodies that come too slowly are given up, so that slow callers hold nothing.

use axum::body::{Body, Bytes};
use axum::extract::Request;
use axum::middleware::Next;
use axum::response::Response;
use futures_core::Stream;
use http_body_util::BodyExt;
use hyper::body::{Body as _, Frame, SizeHint};
use std::pin::Pin;
use std::task::{Context, Poll};
use std::time::Duration;
use tokio::time::{Instant, timeout_at};

/// In each of these a body has to bring some.
const STRETCH: Duration = Duration::from_secs(15);
/// Bytes: slower than any line that is used.
const LEAST: usize = 4 * 1024;

/// Hands a call on with a body that ends in an error when it comes too slowly.
pub(crate) async fn paced(request: Request, next: Next) -> Response {
    if request.body().is_end_stream() {
        return next.run(request).await;
    }
    let paced = |body: Body| {
        let size = body.size_hint();
        let frames = Box::pin(frames(body));
        Body::new(Paced { frames, size })
    };
    next.run(request.map(paced)).await
}

/// A body that says how large it is, as the one it is made of.
struct Paced<S> {
    frames: Pin<Box<S>>,
    size: SizeHint,
}

impl<S: Stream<Item = Result<Bytes, axum::BoxError>>> hyper::body::Body for Paced<S> {
    type Data = Bytes;
    type Error = axum::BoxError;

    fn poll_frame(
        mut self: Pin<&mut Self>,
        cx: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Bytes>, axum::BoxError>>> {
        let next = self.frames.as_mut().poll_next(cx);
        next.map(|next| next.map(|data| data.map(Frame::data)))
    }

    fn size_hint(&self) -> SizeHint {
        self.size
    }
}

fn frames(mut body: Body) -> impl Stream<Item = Result<Bytes, axum::BoxError>> {
    async_stream::stream! {
        let mut end = Instant::now() + STRETCH;
        let mut came = 0;
        loop {
            match timeout_at(end, body.frame()).await {
                Ok(None) => break,
                Ok(Some(Err(e))) => {
                    yield Err(e.into());
                    break;
                }
                Ok(Some(Ok(frame))) => {
                    if let Ok(data) = frame.into_data() {
                        came += data.len();
                        // The server's own pauses do not count.
                        let handed = Instant::now();
                        yield Ok(data);
                        end += handed.elapsed();
                    }
                    if came >= LEAST {
                        came = 0;
                        end = Instant::now() + STRETCH;
                    }
                }
                Err(_) => {
                    yield Err("the call came too slowly".into());
                    break;
                }
            }
        }
    }
}
