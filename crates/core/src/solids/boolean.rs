//! What two bodies share, and one without the other.
//!
//! The cutting is done by the `boolmesh` crate; here its results get their labels back and are checked.

use super::solid::{Face, Flaw, Solid};
use boolmesh::prelude::{Manifold, OpType, compute_boolean};
use std::panic::{AssertUnwindSafe, catch_unwind};

/// What is wanted of two bodies.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Wanted {
    /// What both hold.
    Shared,
    /// The first without the second.
    Without,
    /// Both together.
    United,
}

/// Why two bodies cannot be cut.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum BooleanError {
    /// A body that does not bound a solid: the first or the second.
    #[error("body {0} is not closed: {1}")]
    NotClosed(u8, Flaw),
    /// The bodies cannot be told apart, mostly because one crosses itself.
    #[error("the surfaces cannot be cut cleanly")]
    Unclean,
}

/// The bodies' numbers are carried on every corner: facets of the first count up from 1, of the second down from -1.
fn manifold(solid: &Solid, sign: f64) -> Option<Manifold<f64>> {
    let positions: Vec<f64> = solid.mesh.vertices.iter().flatten().copied().collect();
    let corners: Vec<usize> = solid
        .mesh
        .facets
        .iter()
        .flatten()
        .map(|v| *v as usize)
        .collect();
    let numbers: Vec<f64> = (0..corners.len())
        .map(|c| sign * (c / 3 + 1) as f64)
        .collect();
    Manifold::new_with_values(&positions, &corners, &numbers).ok()
}

/// What is wanted of two closed bodies; empty if nothing is left. Facets are what those were that they come from;
/// facets that come from the second body are inner faces unless the bodies are united.
///
/// # Errors
/// [`BooleanError`] if a body is not closed or the cut does not come out closed.
///
/// # Cost
/// n log n in the facets of both, more where many facets cross.
pub fn boolean(first: &Solid, second: &Solid, wanted: Wanted) -> Result<Solid, BooleanError> {
    first.check().map_err(|e| BooleanError::NotClosed(1, e))?;
    second.check().map_err(|e| BooleanError::NotClosed(2, e))?;
    let operation = match wanted {
        Wanted::Shared => OpType::Intersect,
        Wanted::Without => OpType::Subtract,
        Wanted::United => OpType::Add,
    };
    // A library's broken invariant is one more cut that does not come out.
    let cut = catch_unwind(AssertUnwindSafe(|| {
        let (a, b) = (manifold(first, 1.0)?, manifold(second, -1.0)?);
        Some(compute_boolean(&a, &b, operation))
    }));
    let cut = match cut {
        Ok(Some(Ok(cut))) => cut,
        // So the library says that nothing is left.
        Ok(Some(Err(why))) if why.starts_with("empty") => return Ok(Solid::default()),
        _ => return Err(BooleanError::Unclean),
    };
    let face = |number: f64| {
        let facet = number.abs().round() as usize;
        if number > 0.0 {
            first
                .faces
                .get(facet.wrapping_sub(1))
                .copied()
                .unwrap_or_default()
        } else if wanted == Wanted::United {
            second
                .faces
                .get(facet.wrapping_sub(1))
                .copied()
                .unwrap_or_default()
        } else {
            Face::CUT
        }
    };
    let vertices: Vec<[f64; 3]> = cut.ps.iter().map(|p| [p.x, p.y, p.z]).collect();
    let facets = cut.hs.chunks_exact(3).enumerate().map(|(f, t)| {
        let ids = [0, 1, 2].map(|i| t[i].tail as u32);
        (ids, face(cut.vals.get(3 * f).copied().unwrap_or(0.0)))
    });
    let out = Solid::gathered(&vertices, facets).without_dust();
    match out.check() {
        Ok(()) => Ok(out),
        Err(Flaw::Empty) => Ok(Solid::default()),
        Err(Flaw::Open(_)) => Err(BooleanError::Unclean),
    }
}
