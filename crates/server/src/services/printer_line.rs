//! Where a printer answers: an address that a maker typed, looked at before anybody is called.

use reqwest::{Client, Method, RequestBuilder, Response, StatusCode, Url};
use std::net::{IpAddr, SocketAddr};
use std::time::Duration;
use varichrom_core::Problem;

/// A printer that takes longer is silent.
const LONGEST_WAIT: Duration = Duration::from_secs(3);

/// Where a printer answers, and what it wants to hear before it does.
#[derive(Debug)]
pub(crate) struct PrinterLine {
    pub(crate) address: String,
    pub(super) key: Option<String>,
}

impl PrinterLine {
    /// A call that is ready to be sent, with the key, if there is one. The name in the address is asked for once, so that what was
    /// looked at is what is called; nothing is called by another way round.
    ///
    /// # Errors
    /// `printer-address` for what is more than a host and a port, or leads where no printer is; `printer-silent` for a name that
    /// stands for nothing.
    pub(crate) async fn call(&self, method: Method, path: &str) -> Result<RequestBuilder, Problem> {
        let url = self.url()?;
        let (Some(name), Some(port)) = (url.host_str(), url.port_or_known_default()) else {
            return Err(self.refused("it names no host"));
        };
        let asked = tokio::net::lookup_host((name.trim_matches(['[', ']']), port));
        let found = match tokio::time::timeout(LONGEST_WAIT, asked).await {
            Ok(Ok(found)) => found.collect(),
            _ => Vec::<SocketAddr>::new(),
        };
        if found.is_empty() {
            return Err(Problem::new(
                "printer-silent",
                format!("Nobody on this network is called {name}"),
                "address",
                "See how the printer is called, or type its number.",
            ));
        }
        if found.iter().any(|at| leads_astray(at.ip())) {
            return Err(self.refused("it leads where no printer is"));
        }
        let client = Client::builder()
            .timeout(LONGEST_WAIT)
            .redirect(reqwest::redirect::Policy::none())
            .no_proxy()
            .resolve_to_addrs(name, &found)
            .build();
        let client = client.map_err(|_| self.silent("it cannot be called"))?;
        let url = url
            .join(path)
            .map_err(|_| self.silent("it cannot be called"))?;
        let call = client.request(method, url);
        Ok(match &self.key {
            Some(key) => call.bearer_auth(key),
            None => call,
        })
    }

    /// The address, if it is a host and a port and nothing besides.
    fn url(&self) -> Result<Url, Problem> {
        let url = Url::parse(&self.address).map_err(|_| self.refused("it is no address"))?;
        if url.scheme() != "http" {
            return Err(self.refused("printers are asked over http"));
        }
        let is_bare = matches!(url.path(), "" | "/") && url.query().is_none();
        if !is_bare || url.fragment().is_some() {
            return Err(self.refused("there is more behind the host than its port"));
        }
        if !url.username().is_empty() || url.password().is_some() {
            return Err(self.refused("a name or a password stands in it"));
        }
        Ok(url)
    }

    /// What the printer answers, whatever it is, unless it asks for a key.
    ///
    /// # Errors
    /// `printer-silent`; `printer-wants-key`.
    pub(crate) async fn send(&self, call: RequestBuilder) -> Result<Response, Problem> {
        let answer = call.send().await.map_err(|e| match e.is_timeout() {
            true => self.silent("it took too long"),
            false => self.silent("nobody is there"),
        })?;
        let is_about_key = [StatusCode::UNAUTHORIZED, StatusCode::FORBIDDEN];
        if !is_about_key.contains(&answer.status()) {
            return Ok(answer);
        }
        let wants = match self.key {
            Some(_) => "another key",
            None => "a key",
        };
        Err(Problem::new(
            "printer-wants-key",
            format!("The printer at {} wants {wants}", self.address),
            "key",
            "Type the key that it shows, under Printer in Load.",
        ))
    }

    /// The body of an answer, of at most so many bytes.
    ///
    /// # Errors
    /// `printer-silent`.
    pub(crate) async fn heard(
        &self,
        mut answer: Response,
        most: usize,
    ) -> Result<Vec<u8>, Problem> {
        let mut bytes = Vec::new();
        loop {
            match answer.chunk().await {
                Ok(Some(chunk)) if bytes.len() + chunk.len() <= most => {
                    bytes.extend_from_slice(&chunk);
                }
                Ok(Some(_)) => return Err(self.silent("it never stops")),
                Ok(None) => return Ok(bytes),
                Err(_) => return Err(self.silent("it broke off")),
            }
        }
    }

    /// That the printer does not answer as one does.
    pub(crate) fn silent(&self, what: &str) -> Problem {
        Problem::new(
            "printer-silent",
            format!("The printer at {} does not answer: {what}", self.address),
            "address",
            "See that it is switched on and on this network, then try again.",
        )
    }

    fn refused(&self, why: &str) -> Problem {
        Problem::new(
            "printer-address",
            format!("{} is not asked: {why}", self.address),
            "address",
            "Write it like http://192.168.1.20:7500, under Printer in Load.",
        )
    }
}

/// Addresses that lead to a machine's own services, to everybody, or to nobody.
fn leads_astray(ip: IpAddr) -> bool {
    match ip.to_canonical() {
        IpAddr::V4(ip) => {
            ip.is_link_local() || ip.is_unspecified() || ip.is_multicast() || ip.is_broadcast()
        }
        IpAddr::V6(ip) => ip.is_unicast_link_local() || ip.is_unspecified() || ip.is_multicast(),
    }
}
