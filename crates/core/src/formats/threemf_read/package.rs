//! The package around the model: which part is the model, and its bytes as a bounded stream.

use super::parse::{Model, parse};
use super::problem;
use crate::Problem;
use crate::formats::Reading;
use crate::formats::threemf_names::MODEL_RELATION;
use crate::formats::zipped::{self, Budget};
use quick_xml::events::Event;
use std::io::{BufRead, BufReader, Cursor, Read};

/// An opened package.
pub(super) struct Package<'a> {
    archive: zip::ZipArchive<Cursor<&'a [u8]>>,
    budget: Budget,
}

impl<'a> Package<'a> {
    pub(super) fn open(bytes: &'a [u8], budget: Budget) -> Result<Package<'a>, Problem> {
        Ok(Package {
            archive: zipped::open(bytes)?,
            budget,
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

    /// The bytes of a file; none if it is not there.
    ///
    /// # Errors
    /// `zip-…` for a damaged package or one that unpacks to more than a gigabyte.
    pub(super) fn file(&mut self, path: &str) -> Result<Option<Vec<u8>>, Problem> {
        if self.archive.index_for_name(path).is_none() {
            return Ok(None);
        }
        zipped::unpack(&mut self.archive, path, &self.budget).map(Some)
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
        let left = self.budget.left();
        let mut bounded = entry.take(left + 1);
        let parsed = parse(ShortRuns::new(&mut bounded), path, whole, reading);
        let used = left + 1 - bounded.limit();
        self.budget.take(used, path)?;
        parsed
    }
}

/// A stream of XML that refuses to go on when no tag begins for too long: the reader of events keeps everything up to
/// the next tag in memory, and a few kilobytes of ZIP can hold a gigabyte of spaces.
struct ShortRuns<R> {
    inner: BufReader<R>,
    run: usize,
}

/// Longest run between two tags, in bytes.
const LONGEST_RUN: usize = 1 << 24;

impl<R: Read> ShortRuns<R> {
    fn new(inner: R) -> Self {
        ShortRuns {
            inner: BufReader::with_capacity(1 << 18, inner),
            run: 0,
        }
    }
}

impl<R: Read> Read for ShortRuns<R> {
    fn read(&mut self, into: &mut [u8]) -> std::io::Result<usize> {
        let here = self.fill_buf()?;
        let n = here.len().min(into.len());
        into[..n].copy_from_slice(&here[..n]);
        self.consume(n);
        Ok(n)
    }
}

impl<R: Read> BufRead for ShortRuns<R> {
    fn fill_buf(&mut self) -> std::io::Result<&[u8]> {
        if self.run > LONGEST_RUN {
            return Err(std::io::Error::other("16 MB without a tag"));
        }
        self.inner.fill_buf()
    }

    fn consume(&mut self, n: usize) {
        let used = &self.inner.buffer()[..n];
        match used.iter().rposition(|b| *b == b'<') {
            Some(at) => self.run = n - at,
            None => self.run += n,
        }
        self.inner.consume(n);
    }
}
