//! A surface pushed straight through a body.

use super::boolean::{BooleanError, Wanted, boolean};
use super::sheet::Sheet;
use super::solid::{Face, Flaw, Solid};
use crate::geometry::{dot, facet_area, facet_normal, length, normalised};
use crate::mesh::{Mesh, NO_FACET};

/// Why a surface cannot be pushed straight through.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum ThroughError {
    /// The body is not closed.
    #[error("the part is not closed: {0}")]
    NotClosed(Flaw),
    /// The surface turns away from the direction, with a place where it does.
    #[error("the surface turns away at {0:?}")]
    TurnsAway([f64; 3]),
    /// Nothing would be left.
    #[error("nothing of the part would be left")]
    NothingLeft,
    /// Stopped on request.
    #[error("stopped")]
    Stopped,
    /// The cut does not come out clean.
    #[error(transparent)]
    Unclean(BooleanError),
}

/// Divides a closed body by the outline of the chosen facets, straight through along their mean direction. `go_on` is
/// told the finished share between the cuts and returns false to stop.
///
/// # Errors
/// [`ThroughError`].
pub fn straight_through(
    solid: &Solid,
    chosen: &[bool],
    go_on: &dyn Fn(f64) -> bool,
) -> Result<Sheet, ThroughError> {
    solid.check().map_err(ThroughError::NotClosed)?;
    let facets: Vec<usize> = (0..solid.mesh.facets.len())
        .filter(|f| chosen[*f])
        .collect();
    let mut sum = [0.0; 3];
    for f in &facets {
        let corners = solid.corners(*f);
        let n = facet_normal(&corners).unwrap_or([0.0; 3]);
        for i in 0..3 {
            sum[i] += facet_area(&corners) * n[i];
        }
    }
    let along = normalised(sum).ok_or(ThroughError::NothingLeft)?;
    for f in &facets {
        let corners = solid.corners(*f);
        if facet_normal(&corners).is_some_and(|n| dot(n, along) < 0.05) {
            return Err(ThroughError::TurnsAway(corners[0]));
        }
    }
    let size = length(solid.bounds().size());
    // The top stands a little out of the surface, so that no two faces lie on one another there.
    let lift = 1e-3 * size;
    let top = Solid::gathered(
        &solid.mesh.vertices,
        facets
            .iter()
            .map(|f| (solid.mesh.facets[*f], Face::default())),
    );
    let count = top.mesh.vertices.len() as u32;
    let moved = |by: f64| {
        let to = along.map(|c| c * by);
        top.mesh
            .vertices
            .iter()
            .map(move |p| [p[0] + to[0], p[1] + to[1], p[2] + to[2]])
    };
    let mut tool = Mesh {
        vertices: moved(lift).chain(moved(-1.5 * size)).collect(),
        facets: top.mesh.facets.clone(),
    };
    let across = top.topology().across;
    for ([a, b, c], across) in top.mesh.facets.iter().zip(&across) {
        tool.facets.push([*a + count, *c + count, *b + count]);
        for ((from, to), other) in [(*a, *b), (*b, *c), (*c, *a)].into_iter().zip(across) {
            if *other == NO_FACET {
                tool.facets.push([to, from, from + count]);
                tool.facets.push([to, from + count, to + count]);
            }
        }
    }
    let tool = Solid::plain(tool);
    if !go_on(0.0) {
        return Err(ThroughError::Stopped);
    }
    let part = boolean(solid, &tool, Wanted::Shared).map_err(ThroughError::Unclean)?;
    if !go_on(0.5) {
        return Err(ThroughError::Stopped);
    }
    let rest = boolean(solid, &tool, Wanted::Without).map_err(ThroughError::Unclean)?;
    if part.mesh.facets.is_empty() || rest.mesh.facets.is_empty() {
        return Err(ThroughError::NothingLeft);
    }
    Ok(Sheet { part, rest })
}
