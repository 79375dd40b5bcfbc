//! Fewer corners.

use super::lattice::Ring;
use i_overlay::i_float::int::point::IntPoint;

/// A ring without the corners that it does without, staying within a distance in steps of the lattice.
///
/// # Source
/// Ramer, "An iterative procedure for the polygonal approximation of plane curves", 1972; Douglas and Peucker, 1973 (from memory).
pub fn simplified(ring: &Ring, within: f64) -> Ring {
    if ring.len() < 5 {
        return ring.clone();
    }
    // Two corners that stay: the lowest left one, and the one furthest from it.
    let first = (0..ring.len())
        .min_by_key(|i| (ring[*i].x, ring[*i].y))
        .unwrap_or(0);
    let mut turned: Ring = ring[first..]
        .iter()
        .chain(&ring[..first])
        .copied()
        .collect();
    let far = (0..turned.len())
        .max_by_key(|i| away2(turned[0], turned[*i]))
        .unwrap_or(0);
    turned.push(turned[0]);
    let mut kept = simplified_line(&turned[..=far], within);
    kept.pop();
    kept.extend(simplified_line(&turned[far..], within));
    kept.pop();
    kept
}

/// The same for an open line; both ends stay.
pub fn simplified_line(line: &[IntPoint<i32>], within: f64) -> Ring {
    let mut keep = vec![false; line.len()];
    let mut open = vec![(0, line.len().saturating_sub(1))];
    while let Some((a, b)) = open.pop() {
        keep[a] = true;
        keep[b] = true;
        let mut worst = (within, None);
        for i in a + 1..b {
            let off = off_line(line[i], line[a], line[b]);
            if off > worst.0 {
                worst = (off, Some(i));
            }
        }
        if let Some(i) = worst.1 {
            open.push((a, i));
            open.push((i, b));
        }
    }
    line.iter()
        .zip(keep)
        .filter(|(_, keep)| *keep)
        .map(|(p, _)| *p)
        .collect()
}

fn away2(a: IntPoint<i32>, b: IntPoint<i32>) -> i64 {
    let (dx, dy) = (
        i64::from(a.x) - i64::from(b.x),
        i64::from(a.y) - i64::from(b.y),
    );
    dx * dx + dy * dy
}

/// Distance of a place from a stretch between two others.
fn off_line(p: IntPoint<i32>, a: IntPoint<i32>, b: IntPoint<i32>) -> f64 {
    let to = |q: IntPoint<i32>| {
        [
            f64::from(q.x) - f64::from(a.x),
            f64::from(q.y) - f64::from(a.y),
        ]
    };
    let (d, v) = (to(b), to(p));
    let l2 = d[0] * d[0] + d[1] * d[1];
    let t = if l2 > 0.0 {
        ((v[0] * d[0] + v[1] * d[1]) / l2).clamp(0.0, 1.0)
    } else {
        0.0
    };
    (v[0] - t * d[0]).hypot(v[1] - t * d[1])
}
