//! Symmetric matrices of three rows.

/// Eigenvalues and unit eigenvectors of a symmetric matrix.
///
/// # Source
/// Jacobi's rotations (Golub and Van Loan, Matrix Computations, section 8.5).
pub(crate) fn eigen(mut a: [[f64; 3]; 3]) -> ([f64; 3], [[f64; 3]; 3]) {
    let mut v = [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]];
    for _ in 0..12 {
        for (p, q) in [(0, 1), (0, 2), (1, 2)] {
            if a[p][q].abs() < 1e-15 * (a[p][p].abs() + a[q][q].abs()) {
                continue;
            }
            let theta = (a[q][q] - a[p][p]) / (2.0 * a[p][q]);
            let t = theta.signum() / (theta.abs() + (theta * theta + 1.0).sqrt());
            let c = 1.0 / (t * t + 1.0).sqrt();
            let s = t * c;
            for k in 0..3 {
                let (x, y) = (a[k][p], a[k][q]);
                (a[k][p], a[k][q]) = (c * x - s * y, s * x + c * y);
            }
            for k in 0..3 {
                let (x, y) = (a[p][k], a[q][k]);
                (a[p][k], a[q][k]) = (c * x - s * y, s * x + c * y);
            }
            for row in &mut v {
                let (x, y) = (row[p], row[q]);
                (row[p], row[q]) = (c * x - s * y, s * x + c * y);
            }
        }
    }
    let column = |i: usize| [v[0][i], v[1][i], v[2][i]];
    ([a[0][0], a[1][1], a[2][2]], [0, 1, 2].map(column))
}
