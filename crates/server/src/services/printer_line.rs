//! Where a printer answers: an address that a maker typed, looked at before anybody is called.

use reqwest::header::HOST;
use reqwest::{RequestBuilder, StatusCode, Url};
use std::net::{IpAddr, SocketAddr, ToSocketAddrs};
use varichrom_core::Problem;

/// Where a printer answers, and what it wants to hear before it does.
#[derive(Debug)]
pub(crate) struct PrinterLine {
    pub(crate) address: String,
    /// Name and port as they stand in the address.
    host: String,
    /// What the name stands for: asked once, so that what was looked at is what is called.
    at: SocketAddr,
    key: Option<String>,
}

impl PrinterLine {
    /// Looks at an address and finds out what its name stands for.
    ///
    /// # Errors
    /// `printer-address` for what is more than a host and a port, or leads where no printer is; `printer-silent` for a name that
    /// stands for nothing.
    pub(crate) fn of(address: String, key: Option<String>) -> Result<PrinterLine, Problem> {
        let refuse = |why: &str| {
            Problem::new(
                "printer-address",
                format!("{address} is not asked: {why}"),
                "address",
                "Write it like http://192.168.1.20:7500, under Printer in Load.",
            )
        };
        let url = Url::parse(&address).map_err(|_| refuse("it is no address"))?;
        let is_bare = matches!(url.path(), "" | "/") && url.query().is_none();
        if url.scheme() != "http" {
            return Err(refuse("printers are asked over http"));
        }
        if !is_bare || url.fragment().is_some() {
            return Err(refuse("there is more behind the host than its port"));
        }
        if !url.username().is_empty() || url.password().is_some() {
            return Err(refuse("a name or a password stands in it"));
        }
        let (Some(name), Some(port)) = (url.host_str(), url.port_or_known_default()) else {
            return Err(refuse("it names no host"));
        };
        let found = (name.trim_matches(['[', ']']), port).to_socket_addrs();
        let found: Vec<SocketAddr> = found.map(Iterator::collect).unwrap_or_default();
        if found.iter().any(|at| leads_astray(at.ip())) {
            return Err(refuse("it leads where no printer is"));
        }
        let host = match url.port() {
            Some(port) => format!("{name}:{port}"),
            None => name.to_string(),
        };
        let Some(at) = found.first().copied() else {
            return Err(Problem::new(
                "printer-silent",
                format!("Nobody on this network is called {name}"),
                "address",
                "See how the printer is called, or type its number.",
            ));
        };
        Ok(PrinterLine {
            address,
            host,
            at,
            key,
        })
    }

    /// The address of a call.
    pub(crate) fn url(&self, path: &str) -> String {
        format!("http://{}/{path}", self.at)
    }

    /// A call with the name that was typed, and with the key, if there is one.
    pub(crate) fn with_key(&self, call: RequestBuilder) -> RequestBuilder {
        let call = call.header(HOST, &self.host);
        match &self.key {
            Some(key) => call.bearer_auth(key),
            None => call,
        }
    }

    /// That the printer wants a key, or another one, if its answer says so.
    pub(crate) fn refused(&self, status: StatusCode) -> Option<Problem> {
        let is_about_key = [StatusCode::UNAUTHORIZED, StatusCode::FORBIDDEN];
        let wants = match self.key {
            Some(_) => "another key",
            None => "a key",
        };
        is_about_key.contains(&status).then(|| {
            Problem::new(
                "printer-wants-key",
                format!("The printer at {} wants {wants}", self.address),
                "key",
                "Type the key that it shows, under Printer in Load.",
            )
        })
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
