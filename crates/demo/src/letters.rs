//! Block letters for plaques: outlines on a grid, drawn for the shop.

/// Outline of a piece of a letter, counter-clockwise.
pub(super) type Outline = Vec<[f64; 2]>;

/// Cells of a letter, five wide and seven high, top row first; `#` is a stroke. No two cells touch at a corner alone.
fn cells(letter: char) -> [&'static str; 7] {
    match letter {
        'A' => [
            "#####", "#...#", "#...#", "#####", "#...#", "#...#", "#...#",
        ],
        'D' => [
            "####.", "#..##", "#...#", "#...#", "#...#", "#..##", "####.",
        ],
        'E' => [
            "#####", "#....", "#....", "####.", "#....", "#....", "#####",
        ],
        'G' => [
            "#####", "#....", "#....", "#.###", "#...#", "#...#", "#####",
        ],
        'H' => [
            "#...#", "#...#", "#...#", "#####", "#...#", "#...#", "#...#",
        ],
        'I' => [
            "#####", "..#..", "..#..", "..#..", "..#..", "..#..", "#####",
        ],
        'L' => [
            "#....", "#....", "#....", "#....", "#....", "#....", "#####",
        ],
        'N' => [
            "#...#", "##..#", "###.#", "#.###", "#..##", "#...#", "#...#",
        ],
        'Q' => [
            "#####", "#...#", "#...#", "#...#", "#..##", "#####", "...##",
        ],
        'R' => [
            "#####", "#...#", "#...#", "#####", "#.##.", "#..##", "#...#",
        ],
        'T' => [
            "#####", "..#..", "..#..", "..#..", "..#..", "..#..", "..#..",
        ],
        'U' => [
            "#...#", "#...#", "#...#", "#...#", "#...#", "#...#", "#####",
        ],
        'Y' => [
            "#...#", "#...#", "#####", "..#..", "..#..", "..#..", "..#..",
        ],
        _ => [
            ".....", ".....", ".....", ".....", ".....", ".....", ".....",
        ],
    }
}

/// Closed outlines around the strokes of a letter: outer ones counter-clockwise, inner ones clockwise. `corner` is the
/// lower left, `cell` the side of a cell.
pub(super) fn outlines(letter: char, corner: [f64; 2], cell: f64) -> Vec<Outline> {
    let rows = cells(letter);
    let is_set = |x: i32, y: i32| {
        (0..5).contains(&x)
            && (0..7).contains(&y)
            && rows[6 - y as usize].as_bytes()[x as usize] == b'#'
    };
    // Edges with the stroke on their left.
    let mut edges: Vec<([i32; 2], [i32; 2])> = Vec::new();
    for y in 0..7 {
        for x in 0..5 {
            if !is_set(x, y) {
                continue;
            }
            for (dx, dy, from, to) in [
                (0, -1, [x, y], [x + 1, y]),
                (1, 0, [x + 1, y], [x + 1, y + 1]),
                (0, 1, [x + 1, y + 1], [x, y + 1]),
                (-1, 0, [x, y + 1], [x, y]),
            ] {
                if !is_set(x + dx, y + dy) {
                    edges.push((from, to));
                }
            }
        }
    }
    let mut loops = Vec::new();
    while let Some((start, mut at)) = edges.pop() {
        let mut ring = vec![start];
        let mut from = start;
        while at != start {
            let way = [at[0] - from[0], at[1] - from[1]];
            // Where two strokes touch at a corner, turn left and stay on the same one.
            let left = [at[0] - way[1], at[1] + way[0]];
            let next = edges
                .iter()
                .position(|e| e.0 == at && e.1 == left)
                .or_else(|| edges.iter().position(|e| e.0 == at));
            let Some(next) = next else { break };
            let (a, b) = edges.swap_remove(next);
            if [b[0] - a[0], b[1] - a[1]] != way {
                ring.push(a);
            }
            from = a;
            at = b;
        }
        // The start may lie within a straight side.
        let n = ring.len();
        let is_corner = |i: usize| {
            let (a, b, c) = (ring[(i + n - 1) % n], ring[i], ring[(i + 1) % n]);
            (b[0] - a[0]) * (c[1] - b[1]) != (b[1] - a[1]) * (c[0] - b[0])
        };
        let points = (0..n).filter(|i| is_corner(*i)).map(|i| ring[i]);
        // Cut by hand, a few micrometres off: no three corners are in line, which dividing the plate around them needs.
        let place = |p: [i32; 2]| {
            let off = |k: usize| {
                let n = p[0] * 7 + p[1] * 13 + k as i32 * 5 + (corner[0] * 10.0) as i32;
                0.0005 * f64::from(n.rem_euclid(11) - 5)
            };
            [0, 1].map(|k| corner[k] + f64::from(p[k]) * cell + off(k))
        };
        loops.push(points.map(place).collect());
    }
    loops
}

/// Twice the signed area of an outline; positive is counter-clockwise.
pub(super) fn twice_area(outline: &[[f64; 2]]) -> f64 {
    let n = outline.len();
    (0..n)
        .map(|i| {
            let (a, b) = (outline[i], outline[(i + 1) % n]);
            a[0] * b[1] - a[1] * b[0]
        })
        .sum()
}
