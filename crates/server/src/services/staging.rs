//! Files on their way in: opened off the request threads, with progress and a stop, before a job takes them.

use super::drawings::OnTable;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::wire::{StagedState, StagedView};
use sha2::{Digest, Sha256};
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use tokio::sync::watch;
use varichrom_core::Problem;
use varichrom_core::drawing::{check_font, is_font_name};
use varichrom_core::formats::{Reading, bundle};
use varichrom_core::model::OpenMesh;

/// Files kept waiting; the oldest go when there are more, since a tab that was closed never takes its files.
const MOST_STAGED: usize = 64;
/// Bytes of files kept waiting, on the disk; the oldest go when there are more.
const MOST_STAGED_BYTES: u64 = 4 << 30;

/// How far a file is.
pub(super) enum Stage {
    Opening,
    /// A file that belongs beside another, such as a material file or a font.
    Beside,
    Refused(Problem),
    Ready(Arc<OpenMesh>),
    /// A drawing, of which bodies are still to be made.
    Drawing(OnTable),
}

/// A file on its way in.
pub(crate) struct Staged {
    id: u32,
    pub(super) file: String,
    /// The file, or the file with those beside it as one content: on the disk, until it is forgotten.
    kept: tempfile::TempPath,
    size: u64,
    came: Instant,
    stage: Mutex<Stage>,
    /// Finished share in thousandths.
    done: AtomicU32,
    is_stopped: AtomicBool,
    settled: watch::Sender<bool>,
}

/// The files that are waiting.
pub(super) struct Staging {
    /// Where they are kept.
    folder: PathBuf,
    files: Mutex<Vec<Arc<Staged>>>,
    next: AtomicU32,
}

impl Staging {
    /// Files wait in a folder of the data's; what was waiting when the last server ended is forgotten.
    ///
    /// # Errors
    /// A sentence, if the folder cannot be used.
    pub(super) fn in_folder(data: &Path) -> Result<Staging, String> {
        let folder = data.join("waiting");
        let trouble = |e| format!("the folder {} cannot be used: {e}", folder.display());
        if folder.exists() {
            std::fs::remove_dir_all(&folder).map_err(trouble)?;
        }
        std::fs::create_dir_all(&folder).map_err(trouble)?;
        Ok(Staging {
            folder,
            files: Mutex::default(),
            next: AtomicU32::new(0),
        })
    }

    /// How many files wait, and how many bytes they have.
    pub(super) fn waiting(&self) -> (usize, u64) {
        let files = lock(&self.files);
        (files.len(), files.iter().map(|f| f.size).sum())
    }
}

/// The name under which bytes are kept.
pub(super) fn content_name(bytes: &[u8]) -> String {
    let digest = Sha256::digest(bytes);
    digest.iter().map(|b| format!("{b:02x}")).collect()
}

impl Staged {
    /// The opened mesh.
    ///
    /// # Errors
    /// Why the file was refused, or that it is still being opened.
    pub(super) fn open(&self) -> Result<Arc<OpenMesh>, ApiError> {
        match &*lock(&self.stage) {
            Stage::Ready(open) => Ok(open.clone()),
            Stage::Refused(problem) => Err(problem.clone().into()),
            Stage::Drawing(_) => {
                let message = format!("{} is a drawing and no model yet", self.file);
                Err(Problem::new("file-not-ready", message, "", "Make its bodies first.").into())
            }
            Stage::Opening | Stage::Beside => {
                let message = format!("{} is not open yet", self.file);
                Err(Problem::new("file-not-ready", message, "", "Wait until it is open.").into())
            }
        }
    }

    /// The drawing, if it is one.
    ///
    /// # Errors
    /// Why it was refused, or that it is none.
    pub(super) fn drawing(&self) -> Result<OnTable, ApiError> {
        match &*lock(&self.stage) {
            Stage::Drawing(table) => Ok(table.clone()),
            Stage::Refused(problem) => Err(problem.clone().into()),
            Stage::Opening | Stage::Beside | Stage::Ready(_) => {
                Err(ApiError::NotFound("drawing on the table"))
            }
        }
    }

    pub(super) fn put(&self, stage: Stage) {
        *lock(&self.stage) = stage;
        self.settled.send_replace(true);
    }

    /// The file as it came.
    ///
    /// # Errors
    /// If the disk does not give it.
    pub(super) fn bytes(&self) -> Result<Vec<u8>, ApiError> {
        let read = std::fs::read(&self.kept);
        read.map_err(|e| ApiError::Internal(format!("a waiting file cannot be read: {e}")))
    }

    fn work(&self, bytes: &[u8]) {
        let progress = |done| {
            let share = (1000.0 * done) as u32;
            self.done.store(share, Ordering::Relaxed);
            !self.is_stopped.load(Ordering::SeqCst)
        };
        if is_font_name(&self.file) {
            let checked = check_font(bytes);
            return self.put(checked.map_or_else(Stage::Refused, |()| Stage::Beside));
        }
        if let Some(read) = OnTable::read(&self.file, bytes, &progress) {
            return self.put(read.map_or_else(Stage::Refused, Stage::Drawing));
        }
        let reading = Reading {
            beside: &|_| None,
            progress: &progress,
        };
        let read = OpenMesh::read(bytes, &reading);
        self.put(read.map_or_else(Stage::Refused, |open| Stage::Ready(Arc::new(open))));
    }

    fn view(&self) -> StagedView {
        let state = match &*lock(&self.stage) {
            Stage::Opening => StagedState::Opening {
                done: f64::from(self.done.load(Ordering::Relaxed)) / 1000.0,
            },
            Stage::Beside => StagedState::Beside,
            Stage::Drawing(_) => StagedState::Drawing,
            Stage::Refused(problem) => StagedState::Refused {
                problem: problem.clone(),
            },
            Stage::Ready(open) => StagedState::Ready {
                format: open.origin.format.into(),
                size_mm: open.bounds().size(),
                facets: open.mesh.facets.len(),
                parts: open.parts.len(),
                has_colours: open.origin.colours.is_some(),
                outline: outline(open),
            },
        };
        StagedView {
            id: self.id,
            file: self.file.clone(),
            state,
        }
    }
}

/// The outline of a mesh seen a little from above: a convex polygon, in mm of the picture, x to the right, y up.
fn outline(open: &OpenMesh) -> Vec<[f64; 2]> {
    const COLUMNS: usize = 256;
    let seen = |p: &[f64; 3]| [p[0] + 0.4 * p[1], p[2] + 0.3 * p[1]];
    let (mut low, mut high) = (f64::INFINITY, f64::NEG_INFINITY);
    for p in &open.mesh.vertices {
        let [x, _] = seen(p);
        low = low.min(x);
        high = high.max(x);
    }
    // The lowest and the highest point of every column; the hull of these is drawn.
    let mut ends: Vec<[Option<[f64; 2]>; 2]> = vec![[None; 2]; COLUMNS];
    for p in &open.mesh.vertices {
        let q = seen(p);
        let column = ((q[0] - low) / (high - low).max(1e-9) * (COLUMNS - 1) as f64) as usize;
        let [bottom, top] = &mut ends[column.min(COLUMNS - 1)];
        if bottom.is_none_or(|b| q[1] < b[1]) {
            *bottom = Some(q);
        }
        if top.is_none_or(|t| q[1] > t[1]) {
            *top = Some(q);
        }
    }
    let half = |points: Vec<[f64; 2]>| {
        let mut hull: Vec<[f64; 2]> = Vec::new();
        for p in points {
            while let [.., a, b] = hull[..] {
                let turn = (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);
                if turn > 0.0 {
                    break;
                }
                hull.pop();
            }
            hull.push(p);
        }
        hull
    };
    let mut around = half(ends.iter().filter_map(|e| e[0]).collect());
    around.extend(half(ends.iter().rev().filter_map(|e| e[1]).collect()));
    around
}

impl Workshop {
    /// Takes a file in and sets its opening going. `beside`: staged files that belong to it, such as an OBJ's material
    /// file. `is_beside`: it only belongs beside one that is still to come.
    pub(crate) fn stage(
        self: &Arc<Self>,
        file: &str,
        bytes: &[u8],
        beside: &[u32],
        is_beside: bool,
    ) -> Result<StagedView, ApiError> {
        let is_beside = is_beside || file.to_ascii_lowercase().ends_with(".mtl");
        let mut others = Vec::new();
        for id in beside {
            let other = self.staged(*id)?;
            others.push((other.file.clone(), other.bytes()?));
        }
        let bytes = bundle((file, bytes.to_vec()), &others)?;
        let stage = match is_beside {
            true => Stage::Beside,
            false => Stage::Opening,
        };
        let staged = self.put_in_line(file, &bytes, stage)?;
        if !is_beside {
            let work = staged.clone();
            tokio::task::spawn_blocking(move || work.work(&bytes));
        }
        Ok(staged.view())
    }

    /// Puts a drawing that was read already on the table.
    pub(super) fn put_on_table(&self, file: &str, table: OnTable) -> Result<StagedView, ApiError> {
        let staged = self.put_in_line(file, &[], Stage::Drawing(table))?;
        Ok(staged.view())
    }

    fn put_in_line(&self, file: &str, bytes: &[u8], stage: Stage) -> Result<Arc<Staged>, ApiError> {
        let kept = tempfile::NamedTempFile::new_in(&self.staging.folder).and_then(|mut kept| {
            std::io::Write::write_all(&mut kept, bytes)?;
            Ok(kept.into_temp_path())
        });
        let kept = kept.map_err(|e| {
            tracing::warn!("a file cannot be kept while it waits: {e}");
            let message = format!("There is no room on the server's disk for {file}");
            Problem::new(
                "no-room",
                message,
                "",
                "Free some room there, then drop it again.",
            )
        })?;
        let is_settled = !matches!(stage, Stage::Opening);
        let staged = Arc::new(Staged {
            id: self.staging.next.fetch_add(1, Ordering::SeqCst) + 1,
            file: file.chars().take(255).collect(),
            kept,
            size: bytes.len() as u64,
            came: Instant::now(),
            stage: Mutex::new(stage),
            done: AtomicU32::new(0),
            is_stopped: AtomicBool::new(false),
            settled: watch::Sender::new(is_settled),
        });
        let mut files = lock(&self.staging.files);
        files.push(staged.clone());
        let mut sum: u64 = files.iter().map(|f| f.size).sum();
        while files.len() > MOST_STAGED || (sum > MOST_STAGED_BYTES && files.len() > 1) {
            let oldest = files.remove(0);
            oldest.is_stopped.store(true, Ordering::SeqCst);
            sum -= oldest.size;
        }
        Ok(staged)
    }

    /// Forgets files that nobody took for so long.
    pub(super) fn forget_staged(&self, waited: Duration) {
        let mut files = lock(&self.staging.files);
        files.retain(|f| {
            let stays = f.came.elapsed() < waited;
            if !stays {
                f.is_stopped.store(true, Ordering::SeqCst);
            }
            stays
        });
    }

    pub(super) fn staged(&self, id: u32) -> Result<Arc<Staged>, ApiError> {
        let files = lock(&self.staging.files);
        let found = files.iter().find(|s| s.id == id).cloned();
        found.ok_or(ApiError::NotFound("file waiting to be opened"))
    }

    /// How far a file is; waits a moment, so that small files come in one answer.
    pub(crate) async fn staged_view(&self, id: u32) -> Result<StagedView, ApiError> {
        let staged = self.staged(id)?;
        const MOMENT: std::time::Duration = std::time::Duration::from_millis(200);
        let mut settled = staged.settled.subscribe();
        // Running out of time is fine: the answer then says how far it is.
        let _ = tokio::time::timeout(MOMENT, settled.wait_for(|s| *s)).await;
        Ok(staged.view())
    }

    /// Stops the opening of a file and forgets it.
    pub(crate) fn unstage(&self, id: u32) -> Result<(), ApiError> {
        self.staged(id)?.is_stopped.store(true, Ordering::SeqCst);
        lock(&self.staging.files).retain(|s| s.id != id);
        Ok(())
    }
}
