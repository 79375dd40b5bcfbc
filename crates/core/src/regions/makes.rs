//! Alike patches: which patches have the same make, wherever they are and however they are turned.

use crate::mesh::{NO_FACET, dot, facet_normal, length, sub};
use crate::model::{OpenMesh, Partition};

/// What a patch is told by, whatever way it is turned: area, length of its border, spread along its three main
/// directions, how much of its border falls away, and how much of it is turned each way.
#[derive(Debug, Clone, Copy)]
struct Make {
    area: f64,
    border: f64,
    spread: [f64; 3],
    falling: f64,
    flatness: f64,
}

impl Make {
    fn is_like(&self, other: &Make) -> bool {
        let near = |a: f64, b: f64, share: f64| (a - b).abs() <= share * a.abs().max(b.abs());
        let size = self.spread[2].max(self.area);
        near(self.area, other.area, 2e-3)
            && near(self.border, other.border, 2e-3)
            && (0..3).all(|i| (self.spread[i] - other.spread[i]).abs() <= 2e-3 * size)
            && (self.falling - other.falling).abs() <= 0.02
            && (self.flatness - other.flatness).abs() <= 0.01
    }
}

/// The patches of the same make as one of them, that one included, in order. Linear.
pub fn alike_patches(open: &OpenMesh, partition: &Partition, patch: u32) -> Vec<u32> {
    let makes = makes(open, partition);
    let wanted = makes[patch as usize];
    (0..partition.count)
        .filter(|p| *p == patch || wanted.is_like(&makes[*p as usize]))
        .collect()
}

#[derive(Clone, Copy, Default)]
struct Sums {
    area: f64,
    first: [f64; 3],
    second: [[f64; 3]; 3],
    normal: [f64; 3],
    border: f64,
    falling: f64,
}

fn makes(open: &OpenMesh, partition: &Partition) -> Vec<Make> {
    let origin = open.bounds().centre();
    let mut sums = vec![Sums::default(); partition.count as usize];
    for (facet, patch) in partition.patch_of.iter().enumerate() {
        let corners = open.mesh.corners(facet as u32);
        let c = corners.map(|p| sub(p, origin));
        let area = open.facet_areas()[facet];
        let s = &mut sums[*patch as usize];
        let total = [0, 1, 2].map(|i| c[0][i] + c[1][i] + c[2][i]);
        let n = facet_normal(&corners);
        s.area += area;
        for i in 0..3 {
            s.first[i] += area * total[i] / 3.0;
            s.normal[i] += area * n.map_or(0.0, |n| n[i]);
            for j in 0..3 {
                // Second moment of a triangle: area/12 · (Σ corners' products + product of the sums).
                let products: f64 = c.iter().map(|p| p[i] * p[j]).sum();
                s.second[i][j] += area / 12.0 * (products + total[i] * total[j]);
            }
        }
        for (side, other) in open.topology.across[facet].into_iter().enumerate() {
            let is_border = other == NO_FACET || partition.patch_of[other as usize] != *patch;
            if !is_border {
                continue;
            }
            let span = length(sub(corners[(side + 1) % 3], corners[side]));
            s.border += span;
            if other != NO_FACET
                && let Some(n) = n
            {
                let beyond = open.mesh.corners(other);
                let height = beyond
                    .map(|p| dot(n, sub(p, corners[side])))
                    .into_iter()
                    .max_by(|a, b| a.abs().total_cmp(&b.abs()));
                s.falling -= span * height.unwrap_or(0.0).signum();
            }
        }
    }
    sums.iter()
        .map(|s| {
            let area = s.area.max(1e-300);
            let m = s.first.map(|v| v / area);
            let about = [0, 1, 2].map(|i| [0, 1, 2].map(|j| s.second[i][j] / area - m[i] * m[j]));
            Make {
                area: s.area,
                border: s.border,
                spread: main_spreads(about),
                falling: s.falling / s.border.max(1e-300),
                flatness: length(s.normal) / area,
            }
        })
        .collect()
}

/// Eigenvalues of a symmetric matrix, ascending, by Jacobi's rotations.
fn main_spreads(mut a: [[f64; 3]; 3]) -> [f64; 3] {
    for _ in 0..12 {
        for (p, q) in [(0, 1), (0, 2), (1, 2)] {
            if a[p][q].abs() < 1e-300 {
                continue;
            }
            let theta = 0.5 * (a[q][q] - a[p][p]) / a[p][q];
            let t = theta.signum() / (theta.abs() + (theta * theta + 1.0).sqrt());
            let c = 1.0 / (t * t + 1.0).sqrt();
            let s = t * c;
            for k in 0..3 {
                let (x, y) = (a[k][p], a[k][q]);
                a[k][p] = c * x - s * y;
                a[k][q] = s * x + c * y;
            }
            for k in 0..3 {
                let (x, y) = (a[p][k], a[q][k]);
                a[p][k] = c * x - s * y;
                a[q][k] = s * x + c * y;
            }
        }
    }
    let mut values = [a[0][0], a[1][1], a[2][2]];
    values.sort_by(f64::total_cmp);
    values
}
