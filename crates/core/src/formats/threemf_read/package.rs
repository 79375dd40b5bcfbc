//! The package around the model: which part is the model, and its bytes as a bounded stream.

use super::parse::{Model, parse};
use super::problem;
use crate::Problem;
use crate::formats::Reading;
use crate::formats::zipped::{self, LARGEST_UNPACKED};
use quick_xml::events::Event;
use std::io::{BufReader, Cursor, Read};

/// An opened package.
pub(super) struct Package<'a> {
    archive: zip::ZipArchive<Cursor<&'a [u8]>>,
}

/// Relationship of the package to its model (Open Packaging Conventions, 3MF core specification, section 2).
const MODEL_RELATION: &str = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel";

impl<'a> Package<'a> {
    pub(super) fn open(bytes: &'a [u8]) -> Result<Package<'a>, Problem> {
        Ok(Package {
            archive: zipped::open(bytes)?,
        })
    }

    /// Path of the model part, without the leading slash.
    pub(super) fn root(&mut self) -> Result<String, Problem> {
        if let Some(path) = self.related()? {
            return Ok(path);
        }
        let names = zipped::names(&self.archive)?;
        let named = names.into_iter().find(|n| n.ends_with(".model"));
        named.ok_or_else(|| {
            problem(
                "no-model",
                "The package does not say which of its files is the model",
                "_rels/.rels",
            )
        })
    }

    fn related(&mut self) -> Result<Option<String>, Problem> {
        const PATH: &str = "_rels/.rels";
        const LARGEST: u64 = 1 << 20;
        let Ok(entry) = self.archive.by_name(PATH) else {
            return Ok(None);
        };
        let bad = |e: String| {
            let message = format!("The package's list of files cannot be read: {e}");
            problem("bad-package", message, PATH)
        };
        let mut text = Vec::new();
        entry
            .take(LARGEST)
            .read_to_end(&mut text)
            .map_err(|e| bad(e.to_string()))?;
        let mut xml = quick_xml::Reader::from_reader(&text[..]);
        loop {
            match xml.read_event().map_err(|e| bad(e.to_string()))? {
                Event::Start(e) | Event::Empty(e) if e.local_name().as_ref() == "Relationship" => {
                    let value = |name: &str| -> Result<String, Problem> {
                        let found = e.try_get_attribute(name).map_err(|e| bad(e.to_string()))?;
                        let text = found.map(|a| a.value.into_owned());
                        Ok(text.unwrap_or_default())
                    };
                    if value("Type")? == MODEL_RELATION {
                        return Ok(Some(value("Target")?.trim_start_matches('/').to_string()));
                    }
                }
                Event::Eof => return Ok(None),
                _ => {}
            }
        }
    }

    /// Reads one model part.
    pub(super) fn model(&mut self, path: &str, reading: &Reading<'_>) -> Result<Model, Problem> {
        let Some(index) = self.archive.index_for_name(path) else {
            let message = format!("The package lacks its model file {path}");
            return Err(problem("no-model", message, path));
        };
        let entry = self.archive.by_index(index).map_err(|e| {
            let message = format!("The package is damaged: {e}");
            zipped::problem("damaged", message, path)
        })?;
        let whole = entry.size();
        // The size that the archive claims is not trusted; a kilobyte of zeros can claim anything.
        let bounded = entry.take(LARGEST_UNPACKED);
        let stream = BufReader::with_capacity(1 << 18, bounded);
        parse(stream, path, whole, reading)
    }
}
