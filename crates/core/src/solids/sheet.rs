//! A region's surface as a body of its own depth, and the rest.

use super::crossing::crossings;
use super::floor::{Fold, Maker, REST, Taken};
use super::solid::{Flaw, Solid};

/// A body in two: the surface that was chosen with what lies below it, and the rest. They share the facets between.
#[derive(Debug, Clone)]
pub struct Sheet {
    /// What was chosen, to its depth.
    pub part: Solid,
    /// What is left.
    pub rest: Solid,
}

/// Why a surface cannot become a body.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum SheetError {
    /// The body it lies on is not closed.
    #[error("the part is not closed: {0}")]
    NotClosed(Flaw),
    /// No facet is chosen, or all of a body are and nothing would be left at this depth.
    #[error("there is nothing to divide")]
    Nothing,
    /// The chosen surface touches itself at a single point.
    #[error("the surface touches itself at a single point, {0:?}")]
    TouchesAtPoint([f64; 3]),
    /// At this depth the body would fold over itself; with the place, and the deepest that works, if any does.
    #[error("it would fold over itself at {at:?}")]
    Folds {
        /// Where.
        at: [f64; 3],
        /// The greatest depth that works, mm, rounded down to hundredths.
        deepest_mm: Option<f64>,
    },
    /// Stopped on request.
    #[error("stopped")]
    Stopped,
    /// The body crosses itself before anything is done.
    #[error("the part crosses itself at {0:?}")]
    CrossesItself([f64; 3]),
}

/// How deep a sheet goes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum SheetDepth {
    /// So deep everywhere, mm, or not at all.
    Everywhere(f64),
    /// So deep, mm, and less where that would fold; down to nothing, where facets are left to the rest.
    UpTo(f64),
}

impl SheetDepth {
    /// The depth asked for, mm.
    pub fn mm(self) -> f64 {
        match self {
            SheetDepth::Everywhere(mm) | SheetDepth::UpTo(mm) => mm,
        }
    }
}

/// Divides a closed body: the chosen facets with everything down to a depth below them, and the rest. Both are closed,
/// share no volume and together are the body. Where the border of the choice lies on an edge, the wall between them
/// runs midway between the faces, as the ownership rule has it; within a face it runs straight in. `go_on` is told the
/// finished share after each try, as far as it can be told, and returns false to stop.
///
/// # Errors
/// [`SheetError`]; a depth that folds comes with the deepest that does not, found by halving.
///
/// # Cost
/// n log n in the facets of the body; up to nine times that to find the deepest, or to go less deep in places.
pub fn sheet(
    solid: &Solid,
    chosen: &[bool],
    depth: SheetDepth,
    go_on: &dyn Fn(f64) -> bool,
) -> Result<Sheet, SheetError> {
    let topology = solid.topology();
    solid.check_over(&topology).map_err(SheetError::NotClosed)?;
    if !chosen.contains(&true) {
        return Err(SheetError::Nothing);
    }
    let choice = chosen.iter().map(|c| if *c { 0 } else { REST }).collect();
    let mut maker = Maker::new(solid, topology, choice);
    if let Some(v) = maker.touching_point() {
        return Err(SheetError::TouchesAtPoint(solid.mesh.vertices[v as usize]));
    }
    let made = match depth {
        SheetDepth::Everywhere(mm) => maker.everywhere(&[mm], go_on),
        SheetDepth::UpTo(mm) => maker.up_to(&[mm], go_on),
    };
    let at = match made {
        Ok(Some(Taken { mut parts, rest })) => {
            let part = parts.pop().unwrap_or_default();
            return Ok(Sheet { part, rest });
        }
        Ok(None) => return Err(SheetError::Stopped),
        Err(Fold { at, .. }) => at,
    };
    let all: Vec<u32> = (0..solid.mesh.facets.len() as u32).collect();
    if let Some((facet, _)) = crossings(&solid.mesh, &all, &[&maker.tree], false).first() {
        return Err(SheetError::CrossesItself(solid.corners(*facet as usize)[0]));
    }
    let (mut works, mut fails) = (0.0, depth.mm());
    const HALVINGS: u32 = 8;
    for n in 0..HALVINGS {
        let middle = 0.5 * (works + fails);
        let share = f64::from(n + 1) / f64::from(HALVINGS + 1);
        match maker.everywhere(&[middle], &|_| go_on(share)) {
            Ok(Some(_)) => works = middle,
            Ok(None) => return Err(SheetError::Stopped),
            Err(_) => fails = middle,
        }
    }
    let rounded = (works * 100.0).floor() / 100.0;
    let holds = rounded > 0.0 && maker.everywhere(&[rounded], &|_| true).is_ok();
    Err(SheetError::Folds {
        at,
        deepest_mm: holds.then_some(rounded),
    })
}

/// A body divided among several surfaces on it.
#[derive(Debug, Clone)]
pub struct Sheets {
    /// For each surface, in order, its body; none for one that cannot become a body, which the rest keeps.
    pub parts: Vec<Option<Solid>>,
    /// What is left.
    pub rest: Solid,
}

/// Divides a closed body among several surfaces at once, each as deep as it goes up to a depth of its own: all are closed, no
/// two share volume and together they are the body. Where two of them meet on an edge, the wall between them runs midway
/// between the faces. `choice` names for each facet the surface, from 0, or none; `go_on` is told the finished share.
///
/// # Errors
/// [`SheetError::NotClosed`] and [`SheetError::Stopped`]; a surface that cannot become a body is left out instead.
///
/// # Cost
/// As of [`sheet`]; where not all can be made together, as often as there are surfaces.
pub fn sheets(
    solid: &Solid,
    choice: &[Option<u32>],
    depths_mm: &[f64],
    go_on: &dyn Fn(f64) -> bool,
) -> Result<Sheets, SheetError> {
    solid.check().map_err(SheetError::NotClosed)?;
    let tried = |is_in: &dyn Fn(u32) -> bool| -> Result<Option<Sheets>, SheetError> {
        let of = |c: &Option<u32>| c.filter(|c| is_in(*c)).unwrap_or(REST);
        let choice: Vec<u32> = choice.iter().map(of).collect();
        let mut maker = Maker::new(solid, solid.topology(), choice);
        if !maker.leave_points() {
            return Ok(None);
        }
        match maker.up_to(depths_mm, go_on) {
            Ok(None) => Err(SheetError::Stopped),
            Err(_) => Ok(None),
            Ok(Some(Taken { parts, rest })) => {
                let kept = |p: Solid| (!p.mesh.facets.is_empty()).then_some(p);
                let parts = parts.into_iter().map(kept).collect();
                Ok(Some(Sheets { parts, rest }))
            }
        }
    };
    if let Some(all) = tried(&|_| true)? {
        return Ok(all);
    }
    // One of them is in the way: one after another joins those that go together.
    let mut made = Sheets {
        parts: vec![None; depths_mm.len()],
        rest: solid.clone(),
    };
    let mut kept: Vec<u32> = Vec::new();
    for next in 0..depths_mm.len() as u32 {
        if let Some(more) = tried(&|c| c == next || kept.contains(&c))? {
            kept.push(next);
            made = more;
        }
    }
    Ok(made)
}
