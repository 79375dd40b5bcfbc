//! `backup`, `restore` and `doctor`: the data folder kept.

use super::out::{say, warn};
use super::serving::trouble;
use std::path::Path;
use varichrom_core::{Problem, counted};

/// Writes a copy of everything, also while a server uses the folder.
pub(crate) fn backup(data: &Path, to: &Path) -> Result<(), Problem> {
    varichrom_server::backup(data, to).map_err(trouble)?;
    say(format_args!("A copy of everything is in {}", to.display()));
    Ok(())
}

/// Brings a copy back; what is there now is kept beside it.
pub(crate) fn restore(data: &Path, from: &Path) -> Result<(), Problem> {
    let kept = varichrom_server::restore(data, from).map_err(trouble)?;
    say(format_args!(
        "{} holds what {} held",
        data.display(),
        from.display()
    ));
    if let Some(kept) = kept {
        say(format_args!(
            "What was there before is in {}",
            kept.display()
        ));
    }
    Ok(())
}

/// Looks a data folder over and mends what can be mended.
pub(crate) fn doctor(data: &Path, is_json: bool) -> Result<(), Problem> {
    let found = varichrom_server::doctor(data).map_err(trouble)?;
    if is_json {
        say(serde_json::json!({ "found": found }));
    }
    for finding in found.iter().filter(|_| !is_json) {
        match &finding.mended {
            Some(how) => say(format_args!("mended: {}; {how}", finding.what)),
            None => warn(format_args!(
                "not mended: {}. {}",
                finding.what, finding.mend
            )),
        }
    }
    let left = found.iter().filter(|f| f.mended.is_none()).count();
    match left {
        0 => {
            if !is_json && found.is_empty() {
                say("All is well");
            }
            Ok(())
        }
        n => Err(Problem::new(
            "not-mended",
            format!("{} could not be mended", counted(n, "thing")),
            data.display().to_string(),
            "Do what is said of each.",
        )),
    }
}
