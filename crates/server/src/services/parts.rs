//! What is asked about parts: which meet, what an edit would make.

use super::editing::Watched;
use super::session::Session;
use super::workshop::{Workshop, lock};
use crate::error::ApiError;
use crate::wire::{MeetingsView, OpenPartView, PairView, TriedPart, TriedParts};
use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex};
use varichrom_core::job::{Job, PartEdit, PartMeeting, PartMeetings, PartPair};
use varichrom_core::model::OpenMesh;

/// What meetings depend on: the meshes, and the order that says who owns shared volume.
#[derive(Clone)]
struct Standing {
    meshes: Vec<Arc<OpenMesh>>,
    ranked: Vec<(usize, usize)>,
}

impl Standing {
    fn of(job: &Job) -> Standing {
        Standing {
            meshes: job.models.iter().map(|m| m.open.clone()).collect(),
            ranked: job.ranked_parts(),
        }
    }

    fn is(&self, other: &Standing) -> bool {
        self.ranked == other.ranked
            && self.meshes.len() == other.meshes.len()
            && self
                .meshes
                .iter()
                .zip(&other.meshes)
                .all(|(a, b)| Arc::ptr_eq(a, b))
    }
}

#[derive(Default)]
struct State {
    known: Option<(Standing, Option<Arc<PartMeetings>>)>,
    running: Option<Standing>,
}

/// The search for meetings of one session.
#[derive(Default)]
pub(super) struct Meetings {
    state: Mutex<State>,
    is_stopped: AtomicBool,
    /// Finished share in thousandths.
    done: AtomicU32,
}

/// Most facets that are sent to be shown with what an edit would make.
const MOST_SHOWN: usize = 20_000;

fn key(job: &Job, (m, p): (usize, usize)) -> u32 {
    job.models[m].parts[p].key
}

impl Session {
    /// The parts that meet; set going if they are not known for the parts as they stand.
    pub(crate) fn meetings(self: &Arc<Self>, restart: bool) -> MeetingsView {
        let history = lock(&self.history);
        let standing = Standing::of(history.job());
        let mut state = lock(&self.meetings.state);
        match &state.known {
            Some((of, Some(pairs))) if of.is(&standing) => {
                return ready(history.job(), pairs);
            }
            Some((of, None)) if of.is(&standing) && !restart => return MeetingsView::Stopped,
            _ => {}
        }
        if state.running.as_ref().is_none_or(|of| !of.is(&standing)) {
            state.running = Some(standing.clone());
            self.meetings.is_stopped.store(false, Ordering::SeqCst);
            self.meetings.done.store(0, Ordering::Relaxed);
            let (session, job) = (self.clone(), history.job().clone());
            tokio::task::spawn_blocking(move || session.find_meetings(&job, standing));
        }
        MeetingsView::Working {
            done: f64::from(self.meetings.done.load(Ordering::Relaxed)) / 1000.0,
        }
    }

    /// The pairs that meet, if they are known for the parts as they stand; `Some(None)` while they are looked for, none
    /// if the search was stopped.
    pub(super) fn known_pairs(self: &Arc<Self>) -> Option<Option<Arc<PartMeetings>>> {
        match self.meetings(false) {
            MeetingsView::Working { .. } => Some(None),
            MeetingsView::Stopped => None,
            MeetingsView::Ready { .. } => {
                let state = lock(&self.meetings.state);
                let known = state.known.as_ref();
                known.and_then(|(_, pairs)| pairs.clone()).map(Some)
            }
        }
    }

    /// Stops the search that is going on.
    pub(crate) fn stop_meetings(&self) {
        self.meetings.is_stopped.store(true, Ordering::SeqCst);
    }

    fn find_meetings(&self, job: &Job, standing: Standing) {
        let is_current = || {
            lock(&self.meetings.state)
                .running
                .as_ref()
                .is_some_and(|of| of.is(&standing))
        };
        let step = |n: usize, of: usize| {
            let share = (1000 * n / of.max(1)) as u32;
            self.meetings.done.fetch_max(share, Ordering::Relaxed);
            !self.meetings.is_stopped.load(Ordering::Relaxed) && is_current()
        };
        let pairs = job.part_meetings(&step).map(Arc::new);
        let mut state = lock(&self.meetings.state);
        if state.running.as_ref().is_some_and(|of| of.is(&standing)) {
            state.running = None;
            state.known = Some((standing, pairs));
        }
    }

    /// What two parts share, as corners of facets: nine 32-bit floats each, mm.
    pub(crate) fn shared(&self, parts: [u32; 2]) -> Result<Vec<u8>, ApiError> {
        let history = lock(&self.history);
        let state = lock(&self.meetings.state);
        let known = state.known.as_ref().and_then(|(_, pairs)| pairs.clone());
        let pairs = known.ok_or(ApiError::NotFound("overlap"))?;
        let job = history.job();
        let is_pair = |p: &&PartPair| p.parts.map(|part| key(job, part)) == parts;
        let pair = (pairs.pairs.iter())
            .find(is_pair)
            .ok_or(ApiError::NotFound("overlap"))?;
        let solid = pair.shared.as_ref().ok_or(ApiError::NotFound("overlap"))?;
        Ok(solid.loose_corners().flat_map(f32::to_le_bytes).collect())
    }

    /// What an edit of parts would make; given up when nobody wants to know any more.
    pub(crate) fn try_parts(
        &self,
        workshop: &Workshop,
        edit: &PartEdit,
        is_wanted: &AtomicBool,
    ) -> Result<TriedParts, ApiError> {
        let job = self.with_job(Job::clone);
        let inlay = job.inlay_facts(edit)?;
        let go_on = |_: f64| is_wanted.load(Ordering::Relaxed);
        let models = Watched {
            models: self.models(workshop),
            go_on: &go_on,
        };
        let made = job.parts_made(edit, &models)?;
        let new: Vec<_> = made.iter().filter(|m| m.is_new).collect();
        let shown: usize = new.iter().map(|m| m.solid.mesh.facets.len()).sum();
        let corners = if shown > MOST_SHOWN {
            Vec::new()
        } else {
            new.iter().flat_map(|m| m.solid.loose_corners()).collect()
        };
        Ok(TriedParts {
            parts: made
                .iter()
                .map(|m| TriedPart {
                    name: m.name.clone(),
                    own: m.own,
                    is_new: m.is_new,
                    volume_mm3: m.solid.volume_mm3(),
                    pieces: m.solid.pieces(),
                    size_mm: m.solid.bounds().size(),
                })
                .collect(),
            corners,
            inlay,
            alike: edit.place().map_or(Ok(0), |at| job.count_alike(at))?,
        })
    }
}

/// Overlaps first, then what is unclear, what is enclosed, and what only touches.
fn ready(job: &Job, found: &PartMeetings) -> MeetingsView {
    let rank = |m: &PartMeeting| match m {
        PartMeeting::Overlap { .. } => 0,
        PartMeeting::Unclear => 1,
        PartMeeting::Enclosed { .. } => 2,
        PartMeeting::Touch { .. } => 3,
    };
    let mut views: Vec<PairView> = (found.pairs)
        .iter()
        .map(|pair| PairView {
            parts: pair.parts.map(|p| key(job, p)),
            meeting: pair.meeting,
            at: pair.at,
        })
        .collect();
    views.sort_by_key(|v| rank(&v.meeting));
    let unknown = found.unknown.iter().map(|open| OpenPartView {
        part: key(job, open.part),
        at: open.at,
    });
    MeetingsView::Ready {
        pairs: views,
        unknown: unknown.collect(),
    }
}
