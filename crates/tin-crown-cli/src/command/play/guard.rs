//! Who gets in: this machine's own page, and nobody else.

use axum::http::{HeaderMap, Uri, header};

/// So many bytes a token has.
const BYTES: usize = 16;

/// What a request has to bring.
#[derive(Clone, Debug)]
pub struct Guard {
    token: String,
    port: u16,
}

/// Why a request is refused.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Refused {
    /// The address does not have the token.
    Token,
    /// It was sent to another name: one that somebody let point here.
    Host,
    /// It comes from the page of another site.
    Origin,
}

impl Refused {
    pub const fn says(self) -> &'static str {
        match self {
            Refused::Token => "open the address that tin-crown play printed, token included",
            Refused::Host => "only 127.0.0.1 and localhost are answered",
            Refused::Origin => "only the page itself is answered, no other site's",
        }
    }
}

impl Guard {
    /// A guard with a new token.
    pub fn new(port: u16) -> Result<Guard, getrandom::Error> {
        let mut bytes = [0; BYTES];
        getrandom::fill(&mut bytes)?;
        let token = bytes.iter().map(|byte| format!("{byte:02x}")).collect();
        Ok(Guard { token, port })
    }

    /// The address of the page.
    pub fn address(&self) -> String {
        format!("http://127.0.0.1:{}/{}/", self.port, self.token)
    }

    /// What is asked for: the path behind the token. A socket has to say of which page it is.
    pub fn admit<'u>(
        &self,
        uri: &'u Uri,
        headers: &HeaderMap,
        socket: bool,
    ) -> Result<&'u str, Refused> {
        let text = |name| headers.get(name).and_then(|own| own.to_str().ok());
        let hosts = ["127.0.0.1", "localhost"].map(|host| format!("{host}:{}", self.port));
        let host = text(header::HOST).filter(|host| hosts.iter().any(|own| own == host));
        let host = host.ok_or(Refused::Host)?;
        match text(header::ORIGIN) {
            Some(origin) if origin.strip_prefix("http://") == Some(host) => {}
            None if !socket && !headers.contains_key(header::ORIGIN) => {}
            _ => return Err(Refused::Origin),
        }
        let site = headers.get("sec-fetch-site").map(|own| own.as_bytes());
        if !matches!(site, None | Some(b"same-origin" | b"none")) {
            return Err(Refused::Origin);
        }
        let rest = uri.path().strip_prefix('/').unwrap_or_default();
        let (token, path) = rest.split_once('/').ok_or(Refused::Token)?;
        if !same(token, &self.token) {
            return Err(Refused::Token);
        }
        Ok(path)
    }
}

/// Whether two tokens are the same, in a time that tells nothing of where they differ.
fn same(one: &str, other: &str) -> bool {
    let pairs = one.bytes().zip(other.bytes());
    one.len() == other.len() && pairs.fold(0, |differ, (a, b)| differ | (a ^ b)) == 0
}
