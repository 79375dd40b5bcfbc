//! Solid skins and the sparse inside.

use super::bead::{Bead, BeadKind, scale};
use super::rows::{Rows, rows};
use super::walls::{WIDTHS, printable, thin, walls};
use crate::machine::{SkinFill, SparseFill};
use crate::shapes::Area;

/// How far rows may be made wider or narrower so that they come to just the plastic that is due.
const GIVE: [f64; 2] = [0.75, 1.3];

/// What is narrower than so many lines is filled along its edge.
const FEW_LINES: f64 = 5.0;

/// So is what is narrower than so many and what rows leave more than a share of open.
const SOME_LINES: f64 = 20.0;
const OPEN_SHARE: f64 = 0.02;

/// Most lines that follow an edge inward: more than any bed is wide.
const MOST_LINES: usize = 10_000;

/// What of an area the beads of a width leave, when laid along its middle lines as well: those of at least 0.6 lines.
fn with_thin(area: Area, line_mm: f64, beads: &mut Vec<Bead>) -> Area {
    // Rows need one and a half lines to turn in.
    let narrow = printable(&area.minus(&area.opened(0.75 * line_mm)), line_mm);
    beads.extend(thin(&narrow, line_mm));
    area.minus(&narrow)
}

/// A solid area: rows at an angle, or lines that follow its edge.
pub(super) fn solid(area: Area, how: SkinFill, angle_deg: f64, line_mm: f64) -> Vec<Bead> {
    let mut beads = Vec::new();
    match how {
        SkinFill::Contour => {
            let found = walls(&area, MOST_LINES, line_mm);
            beads.extend(found.thin);
            beads.extend(found.lines.into_iter().flatten());
            for bead in beads.iter_mut().filter(|b| b.kind != BeadKind::Thin) {
                bead.kind = BeadKind::Skin;
            }
        }
        SkinFill::Rows => {
            let wide = with_thin(area, line_mm, &mut beads);
            for island in wide.islands() {
                // In few rows most of each would be turns.
                if island.opened(0.5 * FEW_LINES * line_mm).is_empty() {
                    beads.extend(solid(island, SkinFill::Contour, 0.0, line_mm));
                    continue;
                }
                let (rows, open_mm2) = rows_and_gaps(&island, angle_deg, line_mm);
                let is_narrow = || island.opened(0.5 * SOME_LINES * line_mm).is_empty();
                if open_mm2 > OPEN_SHARE * island.mm2() && is_narrow() {
                    beads.extend(solid(island, SkinFill::Contour, 0.0, line_mm));
                } else {
                    beads.extend(rows);
                }
            }
        }
    }
    beads
}

/// Rows over what is wide enough for them, with beads in the wedges that they leave along slanting sides.
pub(super) fn in_rows(island: &Area, angle_deg: f64, line_mm: f64) -> Vec<Bead> {
    rows_and_gaps(island, angle_deg, line_mm).0
}

/// The same, and what is still left open, mm².
fn rows_and_gaps(island: &Area, angle_deg: f64, line_mm: f64) -> (Vec<Bead>, f64) {
    let due_mm2 = island.mm2();
    let inner = island.offset(-0.5 * line_mm);
    let how = Rows {
        angle_deg,
        apart_mm: line_mm,
        is_joined: true,
        fits: true,
    };
    let rows = rows(&inner, how);
    let left = island.minus(&Area::of(&rows.covered));
    let gaps = thin(&printable(&left, line_mm), line_mm);
    let filled: f64 = gaps.iter().map(Bead::ground_mm2).sum();
    let open_mm2 = (left.mm2() - filled).max(0.0);
    let mut laid: Vec<Bead> = rows
        .lines
        .iter()
        .map(|line| Bead::even(BeadKind::Skin, line, line_mm, false))
        .collect();
    come_to(&mut laid, due_mm2 - filled, line_mm);
    laid.extend(gaps);
    (laid, open_mm2)
}

/// The sparse inside, of which a share is filled. `z_mm`: middle of the layer.
pub(super) fn sparse(
    area: &Area,
    how: SparseFill,
    share: f64,
    (layer, z_mm): (usize, f64),
    line_mm: f64,
) -> Vec<Bead> {
    if share <= 0.0 {
        return Vec::new();
    }
    let mut beads = Vec::new();
    for island in area.clone().islands() {
        let due_mm2 = share * island.mm2();
        let lines = match how {
            SparseFill::Rows => {
                rows(
                    &island,
                    Rows {
                        angle_deg: [45.0, -45.0][layer % 2],
                        apart_mm: line_mm / share,
                        is_joined: share > 0.6,
                        fits: false,
                    },
                )
                .lines
            }
            SparseFill::Contour => rings(&island, line_mm / share),
            SparseFill::Gyroid => super::gyroid::gyroid(&island, share, z_mm, line_mm),
        };
        let is_closed = how == SparseFill::Contour;
        let mut laid: Vec<Bead> = lines
            .iter()
            .map(|line| Bead::even(BeadKind::Sparse, line, line_mm, is_closed))
            .collect();
        // A dot between two walls holds nothing, and the way there strings.
        laid.retain(|bead| bead.length_mm() > 0.25 * line_mm);
        come_to(&mut laid, due_mm2, line_mm);
        beads.extend(laid);
    }
    beads
}

/// Lines that follow an edge inward, so far apart.
fn rings(area: &Area, apart_mm: f64) -> Vec<Vec<[f64; 2]>> {
    let mut lines = Vec::new();
    let mut left = area.offset(-0.5 * apart_mm);
    while !left.is_empty() {
        lines.extend(left.rings_mm());
        left = left.offset(-apart_mm);
    }
    lines
}

/// Makes beads wider or narrower so that they take so much ground, within what a bead can do.
fn come_to(beads: &mut [Bead], due_mm2: f64, line_mm: f64) {
    let laid: f64 = beads.iter().map(Bead::ground_mm2).sum();
    if laid > 0.0 {
        let factor = (due_mm2 / laid).clamp(GIVE[0], GIVE[1]);
        scale(beads, factor, WIDTHS.map(|w| w * line_mm));
    }
}

/// Rows across those of a top, a quarter of a line apart, with a twelfth of the plastic that a layer has.
pub(super) fn smoothing(top: &Area, angle_deg: f64, line_mm: f64) -> Vec<Bead> {
    const SHARE: f64 = 1.0 / 12.0;
    const LEAST_MM2: f64 = 4.0;
    let apart_mm = 0.25 * line_mm;
    // Half a line further in than the outline, so that it presses nothing out over the edge.
    let inner = top.offset(-0.5 * line_mm).without_specks(LEAST_MM2);
    let how = Rows {
        angle_deg,
        apart_mm,
        is_joined: true,
        fits: true,
    };
    let lines = rows(&inner, how).lines;
    let bead = |l: &Vec<[f64; 2]>| Bead::even(BeadKind::Smoothing, l, SHARE * apart_mm, false);
    lines.iter().map(bead).collect()
}
