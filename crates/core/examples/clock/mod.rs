//! The clock of the figures.

use std::time::Instant;

/// Runs something a few times and prints the best.
pub(crate) fn time<T>(name: &str, reach: &str, runs: usize, mut work: impl FnMut() -> T) -> T {
    let mut best = f64::INFINITY;
    let mut result = None;
    for _ in 0..runs {
        let start = Instant::now();
        result = Some(work());
        best = best.min(start.elapsed().as_secs_f64());
    }
    println!("| {name} | {best:.3} s | {reach} |");
    result.expect("at least one run")
}
