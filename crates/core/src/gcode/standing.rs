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
    highest: f32,
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
        f64::from(self.highest)
    }

    /// Something is laid at a height.
    pub(crate) fn lay(&mut self, from: [f64; 2], to: [f64; 2], z: f64) {
        self.lay_sloped(from, to, [z, z]);
    }

    pub(super) fn lay_sloped(&mut self, from: [f64; 2], to: [f64; 2], z: [f64; 2]) {
        for (p, z) in along(from, to, z) {
            self.raise(p, z);
        }
    }

    /// The first place on a way at a height that something stands higher, with how high.
    pub(crate) fn meets(&self, from: [f64; 2], to: [f64; 2], z: f64) -> Option<([f64; 2], f64)> {
        self.meets_sloped(from, to, [z, z])
    }

    pub(super) fn meets_sloped(
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
        let tile_mm = CELL_MM * f64::from(TILE);
        if part.radius_mm.is_infinite() {
            // A rail goes over all of the bed.
            let (tile, found) = self.tiles.iter().max_by(|a, b| {
                let of = |t: &(&[i32; 2], &Tile)| (t.1.highest, *t.0);
                of(a)
                    .partial_cmp(&of(b))
                    .unwrap_or(std::cmp::Ordering::Equal)
            })?;
            let at = tile.map(|c| (f64::from(c) + 0.5) * tile_mm);
            return (f64::from(found.highest) > above).then(|| met(at, found.highest));
        }
        let range = |c: f64| {
            let end = |c: f64| (c / tile_mm).floor() as i32;
            end(c - part.radius_mm)..=end(c + part.radius_mm)
        };
        for y in range(p[1]) {
            for x in range(p[0]) {
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
        let (tile, cell) = Standing::cell(p);
        let tile = self.tiles.entry(tile).or_insert_with(|| Tile {
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
            self.highest = self.highest.max(z);
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
