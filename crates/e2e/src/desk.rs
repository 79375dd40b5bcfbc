//! An application on an empty data folder with a browser before it.

use crate::{App, Browser};
use anyhow::Result;
use tempfile::TempDir;

/// All that most browser tests need; ended when dropped.
pub struct Desk {
    /// The application.
    pub app: App,
    /// The browser.
    pub browser: Browser,
    /// The data folder, where a test may put files as well. Dropped last, when nobody uses it any more.
    pub data: TempDir,
}

impl Desk {
    /// Starts `varichrom serve` on an empty folder, and a browser.
    pub async fn start() -> Result<Desk> {
        let data = tempfile::tempdir()?;
        Ok(Desk {
            app: App::start("serve", data.path())?,
            browser: Browser::start().await?,
            data,
        })
    }
}
