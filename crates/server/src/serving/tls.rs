//! Secret connections: certificates from files, or an own one made on request.

use std::path::{Path, PathBuf};
use std::sync::Arc;
use tokio_rustls::TlsAcceptor;
use tokio_rustls::rustls::ServerConfig;
use tokio_rustls::rustls::crypto::ring;
use tokio_rustls::rustls::pki_types::pem::PemObject;
use tokio_rustls::rustls::pki_types::{CertificateDer, PrivateKeyDer};

/// Where certificate and key are, both as PEM.
#[derive(Debug, Clone)]
pub struct Tls {
    /// The certificate, and those that vouch for it.
    pub certificate: PathBuf,
    /// Its private key.
    pub key: PathBuf,
}

impl Tls {
    /// # Errors
    /// A sentence, if a file cannot be read or the two do not belong together.
    pub(super) fn acceptor(&self) -> Result<TlsAcceptor, String> {
        let trouble = |path: &Path, e: &dyn std::fmt::Display| {
            format!("{} cannot be used: {e}", path.display())
        };
        let chain = CertificateDer::pem_file_iter(&self.certificate)
            .and_then(Iterator::collect::<Result<Vec<_>, _>>)
            .map_err(|e| trouble(&self.certificate, &e))?;
        if chain.is_empty() {
            return Err(trouble(&self.certificate, &"there is no certificate in it"));
        }
        let key = PrivateKeyDer::from_pem_file(&self.key).map_err(|e| trouble(&self.key, &e))?;
        let mut config = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
            .with_safe_default_protocol_versions()
            .map_err(|e| e.to_string())?
            .with_no_client_auth()
            .with_single_cert(chain, key)
            .map_err(|e| trouble(&self.certificate, &e))?;
        config.alpn_protocols = vec![b"h2".to_vec(), b"http/1.1".to_vec()];
        Ok(TlsAcceptor::from(Arc::new(config)))
    }
}

/// Makes a certificate for these names in a folder, unless one is there: `certificate.pem` and `key.pem`, which only the
/// owner can read. Browsers ask once whether to trust it.
///
/// # Errors
/// A sentence, if it cannot be made or written.
pub fn make_certificate(folder: &Path, names: &[String]) -> Result<Tls, String> {
    let tls = Tls {
        certificate: folder.join("certificate.pem"),
        key: folder.join("key.pem"),
    };
    if tls.certificate.exists() && tls.key.exists() {
        return Ok(tls);
    }
    let made = rcgen::generate_simple_self_signed(names)
        .map_err(|e| format!("no certificate can be made: {e}"))?;
    std::fs::create_dir_all(folder)
        .map_err(|e| format!("{} cannot be used: {e}", folder.display()))?;
    write(&tls.key, &made.signing_key.serialize_pem(), true)?;
    write(&tls.certificate, &made.cert.pem(), false)?;
    Ok(tls)
}

fn write(path: &Path, text: &str, is_secret: bool) -> Result<(), String> {
    let mut options = std::fs::OpenOptions::new();
    options.write(true).create(true).truncate(true);
    #[cfg(unix)]
    if is_secret {
        use std::os::unix::fs::OpenOptionsExt;
        options.mode(0o600);
    }
    #[cfg(not(unix))]
    let _ = is_secret;
    let mut file = options
        .open(path)
        .map_err(|e| format!("{} cannot be written: {e}", path.display()))?;
    std::io::Write::write_all(&mut file, text.as_bytes())
        .map_err(|e| format!("{} cannot be written: {e}", path.display()))
}
