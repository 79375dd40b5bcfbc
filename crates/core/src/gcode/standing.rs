//! What stands on the bed while a file is read, and whether nozzle and head pass it.

use crate::machine::HeadPart;
use rustc_hash::FxHashMap;

/// Side of a cell of the height map, mm: less than half of what beads are apart.
const CELL_MM: f64 = 0.15;

/// Cells on a side of a tile.
const TILE: i32 = 64;

/// How far below what stands a nozzle or a head may be without touching it, mm: what rounding can do.
const HAIR_MM: f64 = 0.01;

/// Side of the squares in which what hangs over the bed is looked for, mm, and how many there are on a side of a tile.
const SQUARE_MM: f64 = 8.0 * CELL_MM;
const SQUARES: i32 = TILE / 8;

/// What has been laid so far, as heights over the bed.
#[derive(Default)]
pub struct Standing {
    tiles: FxHashMap<[i32; 2], Tile>,
    /// First and last of the tiles along both axes; none before the first.
    span: Option<[[i32; 2]; 2]>,
    /// How high the highest is, and where.
    highest: (f32, [f64; 2]),
}

struct Tile {
    cells: Vec<f32>,
    /// The highest of each square of cells, and of all.
    squares: Vec<f32>,
    highest: f32,
}

/// Where a part of the head would meet what stands.
pub(crate) struct HeadMet {
    /// Which part.
    pub(crate) what: &'static str,
    /// Where what stands is, mm.
    pub(crate) at: [f64; 2],
    /// How high it is, mm.
    pub(crate) high_mm: f64,
}

impl Standing {
    fn cell(p: [f64; 2]) -> ([i32; 2], usize) {
        let c = p.map(|v| (v / CELL_MM).floor() as i32);
        let inner = c.map(|v| v.rem_euclid(TILE));
        (
            c.map(|v| v.div_euclid(TILE)),
            (inner[1] * TILE + inner[0]) as usize,
        )
    }

    fn height(&self, p: [f64; 2]) -> f64 {
        let (tile, cell) = Standing::cell(p);
        let tile = self.tiles.get(&tile);
        tile.map_or(0.0, |t| f64::from(t.cells[cell]))
    }

    /// Height of the highest that stands, mm; 0 if nothing does.
    pub(crate) fn highest_mm(&self) -> f64 {
        f64::from(self.highest.0)
    }

    /// Something is laid from one height to another.
    pub(crate) fn lay(&mut self, from: [f64; 2], to: [f64; 2], z: [f64; 2]) {
        for (p, z) in along(from, to, z) {
            self.raise(p, z);
        }
    }

    /// The first place on a way from one height to another at which something stands higher, with how high.
    pub(crate) fn meets(
        &self,
        from: [f64; 2],
        to: [f64; 2],
        z: [f64; 2],
    ) -> Option<([f64; 2], f64)> {
        along(from, to, z)
            .map(|(p, z)| (p, z, self.height(p)))
            .find(|(_, z, high)| *high > z + HAIR_MM)
            .map(|(p, _, high)| (p, high))
    }

    /// Where something that hangs beside the nozzle meets what stands, on a way from one height to another. Squares of 1.2 mm are taken
    /// as a whole: may say so where there is a millimetre left.
    ///
    /// # Cost
    /// None as long as nothing stands higher than the head hangs; else linear in the length of the way and in what of the bed is below
    /// the head.
    pub(crate) fn meets_head(
        &self,
        from: [f64; 2],
        to: [f64; 2],
        z: [f64; 2],
        head: &[HeadPart],
    ) -> Option<HeadMet> {
        let low = z[0].min(z[1]) + HAIR_MM;
        let parts = head
            .iter()
            .filter(|part| self.highest_mm() > low + part.above_mm);
        parts
            .flat_map(|part| {
                let places = along_by(from, to, z, SQUARE_MM);
                places.map(move |(p, z)| self.highest_below(p, z + part.above_mm + HAIR_MM, part))
            })
            .find_map(|met| met)
    }

    fn highest_below(&self, p: [f64; 2], above: f64, part: &HeadPart) -> Option<HeadMet> {
        let met = |at: [f64; 2], high: f32| HeadMet {
            what: part.what,
            at,
            high_mm: f64::from(high),
        };
        if part.radius_mm.is_infinite() {
            // A rail goes over all of the bed.
            let (high, at) = self.highest;
            return (f64::from(high) > above).then(|| met(at, high));
        }
        let tile_mm = CELL_MM * f64::from(TILE);
        let [first, last] = self.span?;
        // However far a part reaches, no further than anything stands.
        let range = |axis: usize| {
            let end = |c: f64| (c / tile_mm).floor() as i32;
            end(p[axis] - part.radius_mm).max(first[axis])
                ..=end(p[axis] + part.radius_mm).min(last[axis])
        };
        for y in range(1) {
            for x in range(0) {
                let Some(tile) = self.tiles.get(&[x, y]) else {
                    continue;
                };
                if f64::from(tile.highest) <= above {
                    continue;
                }
                for (n, high) in (0i32..).zip(&tile.squares) {
                    let corner = [
                        f64::from(x) * tile_mm + f64::from(n % SQUARES) * SQUARE_MM,
                        f64::from(y) * tile_mm + f64::from(n / SQUARES) * SQUARE_MM,
                    ];
                    let off = [0, 1].map(|i| {
                        let near = p[i].clamp(corner[i], corner[i] + SQUARE_MM);
                        p[i] - near
                    });
                    if f64::from(*high) > above && off[0].hypot(off[1]) <= part.radius_mm {
                        return Some(met(corner.map(|c| c + 0.5 * SQUARE_MM), *high));
                    }
                }
            }
        }
        None
    }

    fn raise(&mut self, p: [f64; 2], z: f64) {
        let (at, cell) = Standing::cell(p);
        let tile = self.tiles.entry(at).or_insert_with(|| Tile {
            cells: vec![0.0; (TILE * TILE) as usize],
            squares: vec![0.0; (SQUARES * SQUARES) as usize],
            highest: 0.0,
        });
        let z = z as f32;
        if tile.cells[cell] < z {
            tile.cells[cell] = z;
            let (x, y) = (cell as i32 % TILE / 8, cell as i32 / TILE / 8);
            let square = &mut tile.squares[(y * SQUARES + x) as usize];
            *square = square.max(z);
            tile.highest = tile.highest.max(z);
            if self.highest.0 < z {
                self.highest = (z, p);
            }
            let [first, last] = self.span.unwrap_or([at, at]);
            self.span = Some([
                [0, 1].map(|i| first[i].min(at[i])),
                [0, 1].map(|i| last[i].max(at[i])),
            ]);
        }
    }
}

/// Places on a way with their heights, nearer to one another than cells.
fn along(from: [f64; 2], to: [f64; 2], z: [f64; 2]) -> impl Iterator<Item = ([f64; 2], f64)> {
    along_by(from, to, z, 0.7 * CELL_MM)
}

fn along_by(
    from: [f64; 2],
    to: [f64; 2],
    z: [f64; 2],
    step_mm: f64,
) -> impl Iterator<Item = ([f64; 2], f64)> {
    let length = (to[0] - from[0]).hypot(to[1] - from[1]);
    let steps = (length / step_mm).ceil().max(1.0) as usize;
    (0..=steps).map(move |step| {
        let t = step as f64 / steps as f64;
        let p = [0, 1].map(|i| from[i] + t * (to[i] - from[i]));
        (p, z[0] + t * (z[1] - z[0]))
    })
}
