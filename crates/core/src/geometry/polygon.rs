//! Faces with more than three corners, divided into triangles without new corners.

use super::rings::area_vector;
use super::vectors::{across_normal, cross, dot, normalised, sub};

/// Corners of a face that is not convex and still divided cleanly: beyond, tangled ones take minutes. It becomes a fan, and what is
/// wrong with that is listed as defects.
const MOST_CUT: usize = 5_000;

/// Triangles of one face as corner numbers within it; `points` runs once around, in the order that faces outward.
///
/// Convex faces become fans; others are divided by the `earcut` crate in the plane they lie in. A face without a
/// direction becomes a fan, so that its facets are still counted and listed as defects.
pub(crate) fn triangles(points: &[[f64; 3]], out: &mut Vec<[usize; 3]>) {
    out.clear();
    let n = points.len();
    if n < 3 {
        return;
    }
    let fan = |out: &mut Vec<[usize; 3]>| out.extend((1..n - 1).map(|i| [0, i, i + 1]));
    if n == 3 {
        return fan(out);
    }
    let area = area_vector((0..n).map(|i| [points[i], points[(i + 1) % n]]));
    let Some(normal) = normalised(area) else {
        return fan(out);
    };
    let turns_left = |i: usize| {
        let (a, b, c) = (points[i], points[(i + 1) % n], points[(i + 2) % n]);
        dot(cross(sub(b, a), sub(c, b)), normal) >= 0.0
    };
    // A quad with one corner turned in is cut from that corner.
    let dents: Vec<usize> = (0..n).filter(|i| !turns_left(*i)).collect();
    match dents[..] {
        [] => fan(out),
        [before] if n == 4 => {
            let dent = (before + 1) % 4;
            out.push([dent, (dent + 1) % 4, (dent + 2) % 4]);
            out.push([dent, (dent + 2) % 4, (dent + 3) % 4]);
        }
        _ => {
            let Some([x, y]) = across_normal(normal) else {
                return fan(out);
            };
            let flat: Vec<[f64; 2]> = points
                .iter()
                .map(|p| {
                    let v = sub(*p, points[0]);
                    [dot(v, x), dot(v, y)]
                })
                .collect();
            if n > MOST_CUT {
                return fan(out);
            }
            let mut cut: Vec<usize> = Vec::new();
            earcut::Earcut::new().earcut(flat.iter().copied(), &[], &mut cut);
            if cut.len() != 3 * (n - 2) {
                return fan(out);
            }
            let signed = |t: &[usize]| {
                let [a, b, c] = [flat[t[0]], flat[t[1]], flat[t[2]]];
                (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
            };
            for t in cut.chunks_exact(3) {
                out.push(if signed(t) < 0.0 {
                    [t[0], t[2], t[1]]
                } else {
                    [t[0], t[1], t[2]]
                });
            }
        }
    }
}
