//! Walls: lines along the edge of an area, from outside in.
//!
//! What is at least 1.6 lines wide gets a closed line on either side. Where the two are so near to one another that they would
//! overlap, or leave a gap that no line fills, both share what there is. What is narrower gets a single bead along its middle.

use super::bead::{Bead, BeadKind, Joint, way};
use crate::layers::LEAST_LINES;
use crate::shapes::{Area, middle_lines, place};

/// Least and most width of a bead, in lines.
pub(super) const WIDTHS: [f64; 2] = [LEAST_LINES, 1.6];

/// The plan knows widths to a twelfth: what is narrower by that than the narrowest bead is laid as one all the same.
const KNOWN: f64 = 11.0 / 12.0;

/// Lines between the middles of two sides from which on a bead of its own lies between them; nearer ones share what there is.
const OWN_BETWEEN: f64 = 1.0 + KNOWN * WIDTHS[0];

/// A hair, mm: by so much areas are looked at as narrower than asked, so that rounding does not decide.
const HAIR_MM: f64 = 0.002;

/// Walls of an area, and what is left inside of them.
pub(super) struct Walls {
    /// By line from outside in.
    pub(super) lines: Vec<Vec<Bead>>,
    /// Beads along the middle of what is thin.
    pub(super) thin: Vec<Bead>,
    /// What is left to be filled.
    pub(super) rest: Area,
}

/// Lays so many walls along the edge of an area.
///
/// # Cost
/// Five offsets for each line.
pub(super) fn walls(area: &Area, count: usize, line_mm: f64) -> Walls {
    let mut found = Walls {
        lines: Vec::new(),
        thin: Vec::new(),
        rest: area.clone(),
    };
    for _ in 0..count {
        if found.rest.is_empty() {
            break;
        }
        let open = found.rest.opened(0.5 * WIDTHS[1] * line_mm - HAIR_MM);
        let narrow = printable(&found.rest.minus(&open), line_mm);
        found.thin.extend(thin(&narrow, line_mm));
        // Not what was opened: its corners are round.
        let wide = match narrow.is_empty() {
            true => found.rest.clone(),
            false => found.rest.minus(&narrow),
        };
        let centre = wide.offset(-0.5 * line_mm);
        found.lines.push(loops(&centre, line_mm));
        found.rest = wide.offset(-line_mm);
    }
    found
}

/// What of a thin area is wide enough for a bead; crumbs in corners are not.
pub(super) fn printable(area: &Area, line_mm: f64) -> Area {
    let least = KNOWN * WIDTHS[0] * line_mm;
    area.opened(0.5 * least - HAIR_MM)
        .without_specks(1.5 * least * least)
}

/// Beads along the middle of what is thin but [`printable`].
pub(super) fn thin(area: &Area, line_mm: f64) -> Vec<Bead> {
    let least = WIDTHS[0] * line_mm;
    if area.is_empty() {
        return Vec::new();
    }
    let most = WIDTHS[1] * line_mm;
    middle_lines(area, KNOWN * least - 2.0 * HAIR_MM)
        .into_iter()
        .map(|line| Bead {
            kind: BeadKind::Thin,
            line: line
                .points
                .into_iter()
                .map(|(at, width)| Joint {
                    at,
                    width: width.clamp(least, most),
                })
                .collect(),
            is_closed: line.is_closed,
        })
        .filter(|b| b.length_mm() > 0.5 * least)
        .collect()
}

/// Closed beads along the edge of an area that has half a line less than what they cover.
fn loops(centre: &Area, line_mm: f64) -> Vec<Bead> {
    let kind = BeadKind::InnerWall;
    // Where the two sides are nearer than this they share what there is.
    let apart = OWN_BETWEEN * line_mm - 2.0 * HAIR_MM;
    let narrow = centre.minus(&centre.opened(0.5 * apart));
    let narrow = narrow.without_specks(0.02 * line_mm * line_mm);
    let boxes: Vec<_> = narrow.islands().iter().filter_map(Area::bounds).collect();
    let rings = centre.rings_mm();
    let is_near = |p: [f64; 2]| {
        let reach = 0.25 * line_mm;
        let within = |(low, high): &([f64; 2], [f64; 2])| {
            (0..2).all(|i| p[i] >= low[i] - reach && p[i] <= high[i] + reach)
        };
        boxes.iter().any(within)
    };
    let edges: Vec<[[f64; 2]; 2]> = match boxes.is_empty() {
        true => Vec::new(),
        false => rings.iter().flat_map(|r| sides(r)).collect(),
    };
    centre
        .rings()
        .map(|ring| {
            let ring: Vec<[f64; 2]> = ring.iter().map(|p| place(*p)).collect();
            if !ring.iter().any(|p| is_near(*p))
                && !sides(&ring).any(|[a, b]| {
                    // A long side may pass by though no corner is near.
                    way(a, b) > line_mm
                        && boxes.iter().any(|(low, high)| crosses(a, b, *low, *high))
                })
            {
                return Bead::even(kind, &ring, line_mm, true);
            }
            let line = shared_out(&ring, &edges, line_mm, &is_near);
            Bead {
                kind,
                line,
                is_closed: true,
            }
        })
        .collect()
}

fn sides(ring: &[[f64; 2]]) -> impl Iterator<Item = [[f64; 2]; 2]> + '_ {
    let next = ring.iter().cycle().skip(1);
    ring.iter().zip(next).map(|(a, b)| [*a, *b])
}

/// Whether the box around a stretch meets another.
fn crosses(a: [f64; 2], b: [f64; 2], low: [f64; 2], high: [f64; 2]) -> bool {
    (0..2).all(|i| a[i].min(b[i]) <= high[i] && a[i].max(b[i]) >= low[i])
}

/// A line moved and widened where the other side is near, so that both together cover just what there is.
fn shared_out(
    ring: &[[f64; 2]],
    edges: &[[[f64; 2]; 2]],
    line_mm: f64,
    is_near: &dyn Fn([f64; 2]) -> bool,
) -> Vec<Joint> {
    let mut line = Vec::new();
    for [a, b] in sides(ring) {
        let length = way(a, b);
        if length == 0.0 {
            continue;
        }
        // To the left lies the inside.
        let inward = [-(b[1] - a[1]) / length, (b[0] - a[0]) / length];
        let steps = (length / (0.75 * line_mm)).ceil().max(1.0) as usize;
        for step in 0..steps {
            let t = step as f64 / steps as f64;
            let at = [0, 1].map(|i| a[i] + t * (b[i] - a[i]));
            if !is_near(at) {
                if step == 0 {
                    line.push(Joint { at, width: line_mm });
                }
                continue;
            }
            // A corner is looked at a little way on, where its side has a direction.
            let from = match step {
                0 => [0, 1].map(|i| a[i] + (0.05 * line_mm / length).min(0.5) * (b[i] - a[i])),
                _ => at,
            };
            let most = WIDTHS[1] * line_mm;
            let near = OWN_BETWEEN * line_mm - 2.0 * HAIR_MM;
            let apart = ray(from, inward, edges).filter(|s| *s < near);
            let Some(apart) = apart else {
                line.push(Joint { at, width: line_mm });
                continue;
            };
            let width = (0.5 * (apart + line_mm)).clamp(WIDTHS[0] * line_mm, most);
            let by = 0.25 * (apart - line_mm);
            line.push(Joint {
                at: [0, 1].map(|i| at[i] + by * inward[i]),
                width,
            });
        }
    }
    line
}

/// How far it is from a place on an edge to the next edge in a direction.
fn ray(from: [f64; 2], along: [f64; 2], edges: &[[[f64; 2]; 2]]) -> Option<f64> {
    const OWN_MM: f64 = 1e-3;
    let mut nearest = None;
    for [a, b] in edges {
        let (d, v) = ([b[0] - a[0], b[1] - a[1]], [a[0] - from[0], a[1] - from[1]]);
        let across = along[0] * d[1] - along[1] * d[0];
        if across.abs() < 1e-12 {
            continue;
        }
        let far = (v[0] * d[1] - v[1] * d[0]) / across;
        let t = (v[0] * along[1] - v[1] * along[0]) / across;
        if far > OWN_MM && (-1e-9..=1.0 + 1e-9).contains(&t) && nearest.is_none_or(|n| far < n) {
            nearest = Some(far);
        }
    }
    nearest
}
