//! ZIP: several files in one, the same bytes every time; and what a ZIP that comes in holds.

use super::pixels::is_picture_name;
use crate::Problem;
use std::collections::BTreeMap;
use std::io::{Cursor, Read, Write};
use zip::write::SimpleFileOptions;

/// A ZIP of named files, in the order given, without dates.
///
/// # Errors
/// `export-failed` if the archive cannot be written, such as for two files of one name.
pub fn zip_files(files: &[(String, Vec<u8>)]) -> Result<Vec<u8>, Problem> {
    let files: Vec<(&str, &[u8])> = files.iter().map(|(n, b)| (n.as_str(), &b[..])).collect();
    pack(&files).map_err(|e| {
        let message = format!("The archive could not be written: {e}");
        Problem::new(
            "export-failed",
            message,
            "",
            "Rename parts that have the same name.",
        )
    })
}

/// A model and the files that belong beside it (an OBJ and its material file) as one content, which [`super::read`]
/// opens again. A model alone stays as it is.
///
/// # Errors
/// `bundle-failed` if two files have one name.
pub fn bundle(model: (&str, Vec<u8>), beside: &[(String, Vec<u8>)]) -> Result<Vec<u8>, Problem> {
    if beside.is_empty() {
        return Ok(model.1);
    }
    let mut files: Vec<(&str, &[u8])> = vec![(last_name(model.0), &model.1)];
    files.extend(beside.iter().map(|(n, b)| (last_name(n), &b[..])));
    pack(&files).map_err(|e| {
        let message = format!("The files cannot be kept together: {e}");
        Problem::new("bundle-failed", message, "", "Give them different names.")
    })
}

fn pack(files: &[(&str, &[u8])]) -> zip::result::ZipResult<Vec<u8>> {
    let mut archive = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        archive.start_file(*name, SimpleFileOptions::default())?;
        archive.write_all(bytes)?;
    }
    Ok(archive.finish()?.into_inner())
}

fn last_name(path: &str) -> &str {
    path.rsplit(['/', '\\']).next().unwrap_or(path)
}

/// What one opening may unpack in all: a ZIP can claim to hold gigabytes, and so can each of the files in it.
const MOST_UNPACKED: u64 = 1 << 30;

/// How deep archives are opened within archives.
const DEEPEST: u32 = 2;

/// What is left of one opening's budget.
#[derive(Debug)]
pub(super) struct Budget {
    bytes: std::cell::Cell<u64>,
    depth: u32,
}

impl Budget {
    pub(super) fn whole() -> Budget {
        Budget {
            bytes: std::cell::Cell::new(MOST_UNPACKED),
            depth: 0,
        }
    }

    /// What is left for an archive within the one at hand.
    ///
    /// # Errors
    /// `zip-too-deep`.
    pub(super) fn within(self) -> Result<Budget, Problem> {
        if self.depth + 1 >= DEEPEST {
            return Err(Problem::new(
                "zip-too-deep",
                "The archive holds archives within archives",
                "",
                "Unpack it and choose the model's file.",
            ));
        }
        Ok(Budget {
            depth: self.depth + 1,
            ..self
        })
    }

    /// How much more may be unpacked.
    pub(super) fn left(&self) -> u64 {
        self.bytes.get()
    }

    /// Takes what was unpacked off.
    ///
    /// # Errors
    /// `zip-unpacks-too-large`, with the file.
    pub(super) fn take(&self, bytes: u64, name: &str) -> Result<(), Problem> {
        let left = self.bytes.get().checked_sub(bytes).ok_or_else(|| {
            problem(
                "unpacks-too-large",
                "The archive unpacks to more than a gigabyte",
                name,
            )
        })?;
        self.bytes.set(left);
        Ok(())
    }
}

/// Entries an archive may have.
const MOST_ENTRIES: usize = 10_000;

pub(super) fn problem(code: &str, message: impl Into<String>, place: &str) -> Problem {
    Problem::new(
        &format!("zip-{code}"),
        message,
        place,
        "Download or export the file again.",
    )
}

/// Opens an archive and looks over its names.
pub(super) fn open(bytes: &[u8]) -> Result<zip::ZipArchive<Cursor<&[u8]>>, Problem> {
    let archive = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|e| {
        let message = format!("The archive is damaged: {e}");
        problem("damaged", message, &format!("byte {}", bytes.len()))
    })?;
    if archive.len() > MOST_ENTRIES {
        return Err(problem(
            "too-many-files",
            "The archive holds more than 10 000 files",
            "",
        ));
    }
    if let Some(name) = names(&archive)?.iter().find(|n| leads_out(n)) {
        return Err(problem(
            "path-leads-out",
            "The archive names a file outside itself",
            name,
        ));
    }
    Ok(archive)
}

/// Names of all entries.
pub(super) fn names(archive: &zip::ZipArchive<Cursor<&[u8]>>) -> Result<Vec<String>, Problem> {
    let names = archive.file_names().map(|n| n.map(String::from));
    names.collect::<Result<_, _>>().map_err(|e| {
        let message = format!("The archive's list of files cannot be read: {e}");
        problem("damaged", message, "")
    })
}

fn leads_out(name: &str) -> bool {
    name.split(['/', '\\']).any(|step| step == "..") || name.starts_with(['/', '\\'])
}

/// The files of an archive that are wanted by their names, unpacked.
///
/// # Errors
/// `zip-…` for a damaged archive or one that unpacks to more than a gigabyte.
pub fn unzip_files(
    bytes: &[u8],
    is_wanted: &dyn Fn(&str) -> bool,
) -> Result<BTreeMap<String, Vec<u8>>, Problem> {
    let mut archive = open(bytes)?;
    let budget = Budget::whole();
    let wanted = names(&archive)?.into_iter().filter(|n| is_wanted(n));
    wanted
        .map(|name| {
            let file = unpack(&mut archive, &name, &budget)?;
            Ok((name, file))
        })
        .collect()
}

/// What the list of edits is called in a project, which is a job and no model.
pub const PROJECT_LIST: &str = "project.json";

/// Whether these bytes are a project, whole or not.
pub fn is_project(bytes: &[u8]) -> bool {
    let names = || names(&open(bytes)?);
    bytes.starts_with(b"PK") && names().is_ok_and(|n| n.iter().any(|n| n == PROJECT_LIST))
}

/// One of our own archives with one file of it changed, the others as they are and in their order.
///
/// # Errors
/// What went wrong, in the words of the archive's library.
pub(super) fn with_changed(
    bytes: &[u8],
    name: &str,
    change: impl Fn(Vec<u8>) -> Vec<u8>,
) -> zip::result::ZipResult<Vec<u8>> {
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes))?;
    let mut files: Vec<(String, Vec<u8>)> = Vec::new();
    for index in 0..archive.len() {
        let mut entry = archive.by_index(index)?;
        let entry_name = entry.name()?.to_string();
        let mut content = Vec::new();
        entry.read_to_end(&mut content)?;
        if entry_name == name {
            content = change(content);
        }
        files.push((entry_name, content));
    }
    let files: Vec<(&str, &[u8])> = files.iter().map(|(n, b)| (n.as_str(), &b[..])).collect();
    pack(&files)
}

/// What an archive is to us.
pub(super) enum Inside {
    /// A 3MF package.
    ThreeMf,
    /// One model and the files beside it: materials and pictures.
    Bundle {
        model: Vec<u8>,
        beside: Vec<(String, Vec<u8>)>,
    },
}

/// Tells a 3MF package from an archive with one model in it.
pub(super) fn model_in(bytes: &[u8], budget: &Budget) -> Result<Inside, Problem> {
    let mut archive = open(bytes)?;
    let names = names(&archive)?;
    let ends = |name: &str, endings: &[&str]| {
        let ending = name.rsplit('.').next().unwrap_or_default();
        endings.iter().any(|e| ending.eq_ignore_ascii_case(e))
    };
    if names.iter().any(|n| n == PROJECT_LIST) {
        return Err(Problem::new(
            "project-file",
            "This is a whole job and no model",
            "",
            "Drop it on the shelf: it opens as a job of its own.",
        ));
    }
    if names.iter().any(|n| n == "_rels/.rels") || names.iter().any(|n| ends(n, &["model"])) {
        return Ok(Inside::ThreeMf);
    }
    let is_hidden = |n: &str| n.starts_with("__MACOSX") || last_name(n).starts_with('.');
    let models: Vec<&String> = names
        .iter()
        .filter(|n| ends(n, &["stl", "obj", "ply", "3mf", "wrl"]) && !is_hidden(n))
        .collect();
    let model = match models[..] {
        [one] => one.clone(),
        [] => {
            return Err(Problem::new(
                "zip-no-model",
                "The archive holds no model",
                "",
                "Choose the archive's STL, OBJ, PLY, 3MF or VRML97 file.",
            ));
        }
        _ => {
            return Err(Problem::new(
                "zip-many-models",
                format!("The archive holds {} models", models.len()),
                "",
                "Unpack it and choose the files you want, several at once if they belong together.",
            ));
        }
    };
    let mut beside = Vec::new();
    let is_beside = |n: &String| (ends(n, &["mtl"]) || is_picture_name(n)) && !is_hidden(n);
    for name in names.iter().filter(|n| is_beside(n)) {
        beside.push((
            last_name(name).to_string(),
            unpack(&mut archive, name, budget)?,
        ));
    }
    Ok(Inside::Bundle {
        model: unpack(&mut archive, &model, budget)?,
        beside,
    })
}

/// A file of an archive.
pub(super) fn unpack(
    archive: &mut zip::ZipArchive<Cursor<&[u8]>>,
    name: &str,
    budget: &Budget,
) -> Result<Vec<u8>, Problem> {
    let damaged = |e: String| problem("damaged", format!("The archive is damaged: {e}"), name);
    let entry = archive.by_name(name).map_err(|e| damaged(e.to_string()))?;
    let mut bytes = Vec::new();
    entry
        .take(budget.left() + 1)
        .read_to_end(&mut bytes)
        .map_err(|e| damaged(e.to_string()))?;
    budget.take(bytes.len() as u64, name)?;
    Ok(bytes)
}
