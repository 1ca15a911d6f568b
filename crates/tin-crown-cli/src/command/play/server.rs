//! The server: one page, its socket and two downloads, on the loopback address.

use std::net::{Ipv4Addr, TcpListener};
use std::sync::Arc;
use std::sync::mpsc::Sender;
use std::time::{Duration, Instant};

use axum::Router;
use axum::body::Body;
use axum::extract::ws::{Message, Utf8Bytes, WebSocket, WebSocketUpgrade};
use axum::extract::{Request, State};
use axum::http::{HeaderValue, Method, StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::serve::ListenerExt;
use tokio::sync::{Notify, mpsc, oneshot};

use super::desk::{Ask, Viewer};
use super::guard::Guard;
use super::orders::Order;
use crate::failure::Failure;

/// The greatest size of a message from the page, in bytes.
const MESSAGE: usize = 64 * 1024;
/// So many messages a second are read; of more, the rest waits.
const A_SECOND: u32 = 240;
/// So many messages wait for a page that is slow.
const WAITING: usize = 64;
/// So long pages have to take leave.
const FAREWELL: Duration = Duration::from_millis(500);
/// So many pages may be open.
const PAGES: usize = 16;

/// What every request knows.
#[derive(Clone)]
pub struct Server {
    pub guard: Guard,
    pub desk: Sender<Ask>,
    /// Room for pages.
    pages: Arc<tokio::sync::Semaphore>,
    /// The page itself.
    page: Arc<str>,
}

/// A port of the loopback address: that one, or a free one.
pub fn listen(port: Option<u16>) -> Result<TcpListener, Failure> {
    let fail = |error: std::io::Error| {
        let failure = Failure::new(match port {
            Some(port) => format!("cannot listen on port {port}: {error}"),
            None => format!("cannot listen on a port of this machine: {error}"),
        });
        match port {
            Some(_) => failure.help("leave --port out, and a free one is taken"),
            None => failure,
        }
    };
    let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, port.unwrap_or(0))).map_err(fail)?;
    listener.set_nonblocking(true).map_err(fail)?;
    Ok(listener)
}

impl Server {
    pub fn new(guard: Guard, desk: Sender<Ask>, page: String) -> Server {
        Server {
            guard,
            desk,
            pages: Arc::new(tokio::sync::Semaphore::new(PAGES)),
            page: page.into(),
        }
    }

    /// Answers until it is to end.
    pub async fn serve(self, listener: TcpListener, end: Arc<Notify>) -> std::io::Result<()> {
        let listener = tokio::net::TcpListener::from_std(listener)?;
        // A tick is told at once, and not when more has gathered.
        let listener = listener.tap_io(|stream| drop(stream.set_nodelay(true)));
        let pages = Arc::clone(&self.pages);
        let router = Router::new().fallback(answer).with_state(self);
        tokio::select! {
            served = axum::serve(listener, router) => served,
            () = end.notified() => {
                // Every page hears that it is over.
                let all = pages.acquire_many(PAGES as u32);
                let _ = tokio::time::timeout(FAREWELL, all).await;
                Ok(())
            }
        }
    }
}

async fn answer(
    State(server): State<Server>,
    socket: Result<WebSocketUpgrade, axum::extract::ws::rejection::WebSocketUpgradeRejection>,
    request: Request,
) -> Response {
    let admitted = server
        .guard
        .admit(request.uri(), request.headers(), socket.is_ok());
    let path = match admitted {
        Ok(path) => path,
        Err(refused) => return (StatusCode::FORBIDDEN, refused.says()).into_response(),
    };
    if request.method() != Method::GET {
        return StatusCode::METHOD_NOT_ALLOWED.into_response();
    }
    let mut response = match (path, socket) {
        ("socket", Ok(socket)) => {
            let Ok(permit) = server.pages.clone().try_acquire_owned() else {
                return (StatusCode::SERVICE_UNAVAILABLE, "too many pages are open")
                    .into_response();
            };
            let socket = socket.max_message_size(MESSAGE).max_frame_size(MESSAGE);
            return socket.on_upgrade(move |socket| async move {
                attend(socket, server).await;
                drop(permit);
            });
        }
        ("", Err(_)) => html(server.page.to_string()),
        ("report.html", Err(_)) => download(&server, Ask::Report, html).await,
        ("ledger.jsonl", Err(_)) => {
            let lines = |text: String| {
                (
                    [(header::CONTENT_TYPE, "application/jsonl; charset=utf-8")],
                    text,
                )
                    .into_response()
            };
            download(&server, Ask::Ledger, lines).await
        }
        _ => StatusCode::NOT_FOUND.into_response(),
    };
    // The address holds the token: it goes nowhere else, and nothing is kept or framed.
    for (name, value) in [
        (header::CACHE_CONTROL, "no-store"),
        (header::REFERRER_POLICY, "no-referrer"),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::X_FRAME_OPTIONS, "DENY"),
    ] {
        let value = HeaderValue::from_static(value);
        response.headers_mut().insert(name, value);
    }
    response
}

fn html(text: String) -> Response {
    ([(header::CONTENT_TYPE, "text/html; charset=utf-8")], text).into_response()
}

/// Something that is made of what was played.
async fn download(
    server: &Server,
    ask: impl FnOnce(oneshot::Sender<Result<String, String>>) -> Ask,
    with: impl FnOnce(String) -> Response,
) -> Response {
    let (answer, answered) = oneshot::channel();
    let asked = server.desk.send(ask(answer));
    match (asked, answered.await) {
        (Ok(()), Ok(Ok(text))) => with(text),
        (Ok(()), Ok(Err(why))) => (StatusCode::CONFLICT, why).into_response(),
        _ => Response::builder()
            .status(StatusCode::SERVICE_UNAVAILABLE)
            .body(Body::empty())
            .unwrap_or_default(),
    }
}

/// Takes the orders of a page, and gives on what it is told.
async fn attend(mut socket: WebSocket, server: Server) {
    let (tell, mut told) = mpsc::channel(WAITING);
    let viewer = Viewer::number();
    if server.desk.send(Ask::Come(viewer, tell)).is_err() {
        return;
    }
    let mut pace = Pace::new();
    loop {
        tokio::select! {
            // What is told goes first.
            biased;
            text = told.recv() => match text {
                Some(text) => {
                    if socket.send(Message::Text(Utf8Bytes::from(text))).await.is_err() {
                        break;
                    }
                }
                None => {
                    let _ = socket.send(Message::Close(None)).await;
                    break;
                }
            },
            message = read(&mut socket, &mut pace) => match message {
                Some(Message::Text(text)) => {
                    let ask = match serde_json::from_str::<Order>(&text) {
                        Ok(order) => Ask::Do(viewer, order),
                        Err(error) => Ask::Unread(viewer, error.to_string()),
                    };
                    if server.desk.send(ask).is_err() {
                        break;
                    }
                }
                Some(Message::Close(_)) | None => break,
                Some(_) => {}
            },
        }
    }
    let _ = server.desk.send(Ask::Go(viewer));
}

/// The next message, when its turn has come.
async fn read(socket: &mut WebSocket, pace: &mut Pace) -> Option<Message> {
    if let Some(wait) = pace.wait() {
        tokio::time::sleep(wait).await;
    }
    let message = socket.recv().await?.ok()?;
    pace.take();
    Some(message)
}

/// How many messages may still be read: they come back with time.
struct Pace {
    left: f64,
    at: Instant,
}

impl Pace {
    fn new() -> Pace {
        Pace {
            left: f64::from(A_SECOND),
            at: Instant::now(),
        }
    }

    /// How long to wait for the next.
    fn wait(&mut self) -> Option<Duration> {
        let now = Instant::now();
        let back = now.duration_since(self.at).as_secs_f64() * f64::from(A_SECOND);
        self.left = (self.left + back).min(f64::from(A_SECOND));
        self.at = now;
        (self.left < 1.0).then(|| Duration::from_secs_f64((1.0 - self.left) / f64::from(A_SECOND)))
    }

    fn take(&mut self) {
        self.left -= 1.0;
    }
}
