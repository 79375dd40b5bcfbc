//! Parts cut at the heights where their inside becomes another region's.

use crate::job::Job;
use crate::layers::Span;
use crate::solids::{CutError, Face, Plane, SheetError, Sheets, Solid, cut_by_plane, sheets};

/// A part, or what of it lies between two heights.
pub(super) struct Slice {
    /// Whose its inside is.
    pub(super) own: u16,
    pub(super) solid: Solid,
    /// The heights, mm; none for a part that is whole.
    pub(super) between: Option<[f64; 2]>,
}

impl Slice {
    pub(super) fn whole(job: &Job, at: (usize, usize), solid: Solid) -> Slice {
        Slice {
            own: job.models[at.0].parts[at.1].own,
            solid,
            between: None,
        }
    }
}

/// A part cut at all heights where its inside becomes another region's, from below.
pub(super) fn slices(job: &Job, at: (usize, usize), solid: Solid) -> Vec<Slice> {
    let part = &job.models[at.0].parts[at.1];
    let spans = part.spans_on_bed(job.bed_shift()[2]);
    if spans.is_empty() {
        return vec![Slice::whole(job, at, solid)];
    }
    let mut heights: Vec<f64> = spans.iter().flat_map(|s| [s.low_mm, s.high_mm]).collect();
    heights.retain(|z| z.is_finite());
    heights.sort_by(f64::total_cmp);
    heights.dedup();
    let own_below = |z: f64| Span::owner(&spans, z).unwrap_or(part.own);
    // Each slice that is painted may be made of the whole part: of many slices of a large one that would take too long.
    const MOST_FACETS: usize = 400_000;
    let is_quick = (heights.len() + 1) * solid.mesh.facets.len() <= MOST_FACETS;
    let mut found = Vec::new();
    let (mut rest, mut low) = (solid, f64::NEG_INFINITY);
    for z in heights {
        // A plane that misses, or runs along a face, leaves nothing to divide.
        if let Ok(halves) = cut_by_plane(&rest, &level(z)) {
            found.push(Slice {
                own: own_below(z),
                solid: halves.below,
                between: Some([low, z]),
            });
            rest = halves.above;
            low = z;
        }
    }
    found.push(Slice {
        own: own_below(rest.bounds().max[2]),
        solid: rest,
        between: low.is_finite().then_some([low, f64::INFINITY]),
    });
    for slice in &mut found {
        slice.between = slice.between.filter(|_| is_quick);
        for face in slice.solid.faces.iter_mut().filter(|f| !f.is_inner) {
            let region = face.label.unwrap_or(part.own);
            face.label = Some(region).filter(|r| *r != slice.own);
        }
    }
    found
}

fn level(z: f64) -> Plane {
    Plane {
        normal: [0.0, 0.0, 1.0],
        offset: z,
    }
}

/// What of a body lies between two heights; none if nothing does.
fn slice_of(solid: Solid, [low, high]: [f64; 2]) -> Result<Option<Solid>, CutError> {
    const HAIR_MM: f64 = 1e-6;
    let mut left = solid;
    for (z, is_low) in [(low, true), (high, false)] {
        if left.mesh.facets.is_empty() {
            return Ok(None);
        }
        let bounds = left.bounds();
        let (is_above, is_below) = (bounds.min[2] >= z - HAIR_MM, bounds.max[2] <= z + HAIR_MM);
        if is_above || is_below {
            if is_above != is_low {
                return Ok(None);
            }
            continue;
        }
        let halves = cut_by_plane(&left, &level(z))?;
        left = if is_low { halves.above } else { halves.below };
    }
    Ok(Some(left))
}

/// As [`sheets`] of a slice, made of the part that it was cut from and then cut as that was: colour goes in from the surface that
/// there is, not from where it is cut, and ends on the cut. None where that does not come out clean.
///
/// # Errors
/// [`SheetError::Stopped`].
pub(super) fn sheets_between(
    (uncut, slice): (&Solid, &Solid),
    between: [f64; 2],
    choice_of: &dyn Fn(&Face) -> Option<u32>,
    depths_mm: &[f64],
    go_on: &dyn Fn(f64) -> bool,
) -> Result<Option<Sheets>, SheetError> {
    const HAIR_MM: f64 = 1e-6;
    const OFF_SHARE: f64 = 1e-6;
    let is_between = |facet: usize| {
        let z = uncut.corners(facet).map(|p| p[2]);
        z.iter().any(|z| *z > between[0] + HAIR_MM) && z.iter().any(|z| *z < between[1] - HAIR_MM)
    };
    let choice: Vec<Option<u32>> = (uncut.faces.iter().enumerate())
        .map(|(facet, face)| choice_of(face).filter(|_| is_between(facet)))
        .collect();
    let divided = match sheets(uncut, &choice, depths_mm, go_on) {
        Ok(divided) => divided,
        Err(SheetError::Stopped) => return Err(SheetError::Stopped),
        Err(_) => return Ok(None),
    };
    let mut sum = 0.0;
    let mut cut = |solid: Solid| -> Option<Option<Solid>> {
        let found = slice_of(solid, between).ok()?;
        if let Some(solid) = &found {
            solid.check().ok()?;
            sum += solid.volume_mm3();
        }
        Some(found)
    };
    let parts = divided.parts.into_iter();
    let parts: Option<Vec<Option<Solid>>> = parts.map(|p| p.map_or(Some(None), &mut cut)).collect();
    let (Some(parts), Some(rest)) = (parts, cut(divided.rest)) else {
        return Ok(None);
    };
    let whole = slice.volume_mm3();
    if (sum - whole).abs() > OFF_SHARE * whole {
        return Ok(None);
    }
    Ok(Some(Sheets {
        parts,
        rest: rest.unwrap_or_default(),
    }))
}
