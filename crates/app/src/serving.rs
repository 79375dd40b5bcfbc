//! `serve` and `demo`.

use super::ServeOptions;
use super::out::say;
use std::sync::Arc;
use varichrom_core::Problem;
use varichrom_server::{Config, Tls, Workshop, bind};

/// What `demo` adds to `serve`.
pub(crate) struct Demo {
    pub(crate) open: bool,
    pub(crate) no_serve: bool,
}

pub(crate) fn trouble(message: String) -> Problem {
    let mut letters = message.chars();
    let first = letters
        .next()
        .map(|c| c.to_uppercase().to_string())
        .unwrap_or_default();
    Problem::new(
        "cannot-serve",
        first + letters.as_str(),
        "",
        "Change the option and start again.",
    )
}

/// Opens the data folder, fills it for the demo if asked to, and serves until stopped.
pub(crate) fn serve(options: &ServeOptions, demo: Option<Demo>) -> Result<(), Problem> {
    let filter = tracing_subscriber::EnvFilter::try_from_default_env()
        .unwrap_or_else(|_| tracing_subscriber::EnvFilter::new("warn"));
    tracing_subscriber::fmt()
        .with_env_filter(filter)
        .with_writer(std::io::stderr)
        .init();
    let config = Config {
        address: options.address,
        port: options.port,
        token: options.token.clone(),
        people: match &options.people {
            Some(file) => {
                let json = std::fs::read_to_string(file)
                    .map_err(|e| trouble(format!("{} cannot be read: {e}", file.display())))?;
                varichrom_server::read_people(&json).map_err(trouble)?
            }
            None => Vec::new(),
        },
        hosts: options.hosts.clone(),
        tls: secrets(options)?,
        version: env!("VARICHROM_VERSION").into(),
        largest_file: options.max_file * 1024 * 1024,
    };
    let workshop = Workshop::open(&options.data).map_err(trouble)?;
    if demo.is_some() {
        stock(&workshop)?;
    }
    if demo.as_ref().is_some_and(|d| d.no_serve) {
        say(format_args!(
            "The demo is ready in {}",
            options.data.display()
        ));
        return Ok(());
    }
    let runtime = tokio::runtime::Runtime::new().map_err(|e| trouble(e.to_string()))?;
    runtime.block_on(async {
        let listener = bind(&config).await.map_err(trouble)?;
        let address = listener.local_addr().map_err(|e| trouble(e.to_string()))?;
        let token = config
            .token
            .as_ref()
            .map(|t| format!("/?token={}", varichrom_server::token_in_address(t)))
            .unwrap_or_default();
        let scheme = if config.tls.is_some() {
            "https"
        } else {
            "http"
        };
        let url = format!("{scheme}://{address}{token}");
        say(format_args!("Varichrom is at {url}"));
        if demo.is_some_and(|d| d.open) {
            // The maker sees the address in any case.
            let _ = std::process::Command::new("xdg-open").arg(&url).spawn();
        }
        varichrom_server::serve(listener, workshop, &config)
            .await
            .map_err(trouble)
    })
}

/// Certificate and key, if connections are to be secret.
fn secrets(options: &ServeOptions) -> Result<Option<Tls>, Problem> {
    if options.own_certificate {
        let mut names = options.hosts.clone();
        names.extend(["localhost".to_string(), options.address.to_string()]);
        let folder = options.data.join("certificate");
        return varichrom_server::make_certificate(&folder, &names)
            .map(Some)
            .map_err(trouble);
    }
    let given = options.certificate.clone().zip(options.key.clone());
    Ok(given.map(|(certificate, key)| Tls { certificate, key }))
}

/// Fills an empty shelf and an empty rack with the demo's.
fn stock(workshop: &Arc<Workshop>) -> Result<(), Problem> {
    let internal = |e: varichrom_server::ApiError| match e {
        varichrom_server::ApiError::Refused(problem) => problem,
        other => trouble(other.to_string()),
    };
    if workshop.rack().map_err(internal)?.is_empty() {
        workshop
            .set_rack(&varichrom_demo::rack())
            .map_err(internal)?;
    }
    if workshop.has_no_printers().map_err(internal)? {
        workshop
            .set_printers(&varichrom_demo::printers())
            .map_err(internal)?;
    }
    if workshop.shelf().map_err(internal)?.is_empty() {
        // The last one made stands first on the shelf.
        for job in varichrom_demo::demo_jobs().into_iter().rev() {
            let summary = workshop
                .import(
                    job.file,
                    Some(job.name),
                    Some(job.model),
                    &job.bytes,
                    Some(job.edits),
                    &job.beside,
                )
                .map_err(internal)?;
            if job.is_planned {
                workshop.plan_now(summary.id).map_err(internal)?;
            }
        }
    }
    Ok(())
}
