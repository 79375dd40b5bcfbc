//! Mending: a mesh with its defects taken away, as far as the maker asks.
//!
//! Steps run in one order, each on what the one before left: weld cracks; then, until none of them finds anything, take out
//! facets without area, take out repeated facets, turn facets outward, close holes; at last drop specks. So a second mending
//! finds nothing. Facets that stay keep their order; new ones come last. Every step costs about as much as looking the mesh
//! over anew.

mod facets;
mod holes;
mod turn;
mod weld;

use super::OpenMesh;
use crate::Problem;
use crate::formats::{FileColours, Origin, Pictured, Piece};
use crate::geometry::{length, sub};
use crate::mesh::{Mesh, Topology, find_parts};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// What to mend. Lengths are in mm of the mesh.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct Mending {
    /// Join corners of open edges that lie this near to each other.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub weld_mm: Option<f64>,
    /// Take out facets without area.
    pub degenerate: bool,
    /// Take out facets that repeat another.
    pub duplicates: bool,
    /// Turn facets so that neighbours agree and closed parts face outward.
    pub turn: bool,
    /// Close holes up to this size, measured across.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub holes_mm: Option<f64>,
    /// Drop parts up to this size, measured across. The largest part always stays.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", ts(optional))]
    pub specks_mm: Option<f64>,
}

/// What a mending did.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "wire", derive(ts_rs::TS, utoipa::ToSchema))]
pub struct MendReport {
    /// Corners joined to others.
    pub welded: u32,
    /// Facets without area taken out, or turned into ones with area.
    pub degenerate: u32,
    /// Repeated facets taken out.
    pub duplicates: u32,
    /// Facets turned over.
    pub turned: u32,
    /// Holes closed.
    pub holes: u32,
    /// Facets that fill them.
    pub added: u32,
    /// Parts dropped.
    pub specks: u32,
}

impl MendReport {
    /// Whether anything was changed.
    pub fn is_nothing(&self) -> bool {
        *self == MendReport::default()
    }
}

/// A mesh after mending.
pub struct Mended {
    /// The mesh, looked over anew.
    pub open: OpenMesh,
    /// For each of its facets the facet before that it is, or, for a new one, one beside it.
    pub from: Vec<u32>,
    /// What was done.
    pub report: MendReport,
}

/// A mesh that is being worked on.
struct Work {
    vertices: Vec<[f64; 3]>,
    facets: Vec<[u32; 3]>,
    from: Vec<u32>,
    report: MendReport,
}

impl Work {
    fn topology(&self) -> Topology {
        Topology::of(&self.vertices, &self.facets)
    }

    /// Keeps the facets that a test lets through.
    fn retain(&mut self, keep: impl Fn(usize) -> bool) {
        let mut at = 0;
        self.facets.retain(|_| {
            at += 1;
            keep(at - 1)
        });
        at = 0;
        self.from.retain(|_| {
            at += 1;
            keep(at - 1)
        });
    }

    fn mesh(&self) -> Mesh {
        Mesh {
            vertices: self.vertices.clone(),
            facets: self.facets.clone(),
        }
    }

    fn drop_specks(&mut self, size_mm: f64) {
        let mesh = self.mesh();
        let (parts, part_of) = find_parts(&mesh, &self.topology());
        let across = |i: usize| length(parts[i].measures.bounds.size());
        let largest = (0..parts.len()).max_by(|a, b| across(*a).total_cmp(&across(*b)));
        let is_speck: Vec<bool> = (0..parts.len())
            .map(|i| Some(i) != largest && across(i) <= size_mm)
            .collect();
        self.report.specks = is_speck.iter().filter(|s| **s).count() as u32;
        if self.report.specks > 0 {
            self.retain(|f| !is_speck[part_of[f] as usize]);
        }
    }
}

impl Mending {
    /// Whether the lengths can be used.
    ///
    /// # Errors
    /// `mend-out-of-range` with the field.
    pub fn check(&self) -> Result<(), Problem> {
        let lengths = [
            ("weld_mm", self.weld_mm, 10.0),
            ("holes_mm", self.holes_mm, 10_000.0),
            ("specks_mm", self.specks_mm, 10_000.0),
        ];
        for (field, value, most) in lengths {
            if let Some(mm) = value.filter(|mm| !(*mm > 0.0 && *mm <= most)) {
                let message = format!("A size of {mm} mm cannot be used for mending");
                let mend = format!("Type a size above 0 and up to {most} mm.");
                return Err(Problem::new("mend-out-of-range", message, field, mend));
            }
        }
        Ok(())
    }
}

impl OpenMesh {
    /// The mesh after mending. The mesh itself stays as it is.
    ///
    /// # Errors
    /// `mend-out-of-range` for lengths that cannot be used; `mend-leaves-nothing` if no facet would stay.
    pub fn mended(&self, mending: &Mending) -> Result<Mended, Problem> {
        mending.check()?;
        let mut work = Work {
            vertices: self.mesh.vertices.clone(),
            facets: self.mesh.facets.clone(),
            from: (0..self.mesh.facets.len() as u32).collect(),
            report: MendReport::default(),
        };
        if let Some(mm) = mending.weld_mm {
            work.weld_cracks(mm);
        }
        // One step leaves work for another: a hole that is closed shows which way its part faces, a facet taken out opens a hole.
        const MOST_ROUNDS: usize = 8;
        for _ in 0..MOST_ROUNDS {
            let before = work.facets.clone();
            if mending.degenerate {
                work.without_degenerate();
            }
            if mending.duplicates {
                work.without_duplicates();
            }
            if mending.turn {
                work.turn_outward();
            }
            if let Some(mm) = mending.holes_mm {
                work.close_holes(mm);
            }
            if work.facets == before {
                break;
            }
        }
        if let Some(mm) = mending.specks_mm {
            work.drop_specks(mm);
        }
        if work.facets.is_empty() {
            return Err(Problem::new(
                "mend-leaves-nothing",
                "No facet of the model would be left",
                "",
                "Mend fewer kinds at once.",
            ));
        }
        // Equal corners were one before, or are kept apart: only those nobody uses any more are dropped.
        let mesh = compact(work.vertices, work.facets);
        // Turned over or made anew, a facet has its corners in another order: each takes what the nearest one had.
        let corners = |now: usize| {
            let (new, old) = (mesh.corners(now as u32), self.mesh.corners(work.from[now]));
            new.map(|p| {
                let far = |k: &usize| length(sub(old[*k], p));
                (0..3).min_by(|a, b| far(a).total_cmp(&far(b))).unwrap_or(0)
            })
        };
        let origin = carry(&self.origin, &work.from, &corners);
        let inner = work.from.iter().map(|f| self.is_inner(*f)).collect();
        Ok(Mended {
            open: OpenMesh::of(mesh, Arc::new(origin)).with_inner(inner),
            from: work.from,
            report: work.report,
        })
    }
}

/// The facets over the vertices they use.
fn compact(vertices: Vec<[f64; 3]>, facets: Vec<[u32; 3]>) -> Mesh {
    let mut number = vec![u32::MAX; vertices.len()];
    let mut used = Vec::new();
    let facets = facets
        .into_iter()
        .map(|f| {
            f.map(|v| {
                let n = &mut number[v as usize];
                if *n == u32::MAX {
                    *n = used.len() as u32;
                    used.push(vertices[v as usize]);
                }
                *n
            })
        })
        .collect();
    Mesh {
        vertices: used,
        facets,
    }
}

/// What the file said, for the facets that are left; new ones have the colour of those beside them.
/// `corners`: for each corner of a facet that is left which one it was.
fn carry(origin: &Origin, from: &[u32], corners: &dyn Fn(usize) -> [usize; 3]) -> Origin {
    // Facets that stay keep their order; the new ones behind them need not.
    let ordered = from.windows(2).take_while(|w| w[0] < w[1]).count() + 1;
    let kept = &from[..ordered.min(from.len())];
    let mut out = origin.clone();
    out.pieces = origin
        .pieces
        .iter()
        .map(|piece| Piece {
            name: piece.name.clone(),
            first_facet: kept.partition_point(|f| *f < piece.first_facet) as u32,
        })
        .collect();
    // Of pieces that lost all their facets only the last keeps its place.
    out.pieces.dedup_by(|next, last| {
        let is_empty = next.first_facet == last.first_facet;
        if is_empty {
            last.name.clone_from(&next.name);
        }
        is_empty
    });
    out.colours = origin.colours.as_ref().map(|colours| {
        let varying = from.iter().enumerate().filter_map(|(now, before)| {
            let at = colours.varying.binary_search_by_key(before, |v| v.0).ok()?;
            Some((now as u32, corners(now).map(|k| colours.varying[at].1[k])))
        });
        let pictured = from.iter().enumerate().filter_map(|(now, before)| {
            let at = (colours.pictured).binary_search_by_key(before, |p| p.facet);
            let old = colours.pictured[at.ok()?];
            Some(Pictured {
                facet: now as u32,
                corners: corners(now).map(|k| old.corners[k]),
                ..old
            })
        });
        FileColours {
            palette: colours.palette.clone(),
            facets: from.iter().map(|f| colours.facets[*f as usize]).collect(),
            varying: varying.collect(),
            pictures: colours.pictures.clone(),
            pictured: pictured.collect(),
        }
    });
    out
}
