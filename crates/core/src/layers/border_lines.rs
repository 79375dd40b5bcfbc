//! Lines along the borders between colours inside: what of a layer is solid because of them.
//!
//! Without them the end of a colour would lie loose on the sparse inside of another.

use super::field::Field;
use super::label::{Core, RegionShare};
use super::survey::Survey;
use super::thin::{Bit, UNPRINTED};

/// How far cells are from the borders between slots, near them.
#[derive(Default)]
pub(super) struct BorderLines {
    field: Field,
    /// By cell: squared distance of its middle from the nearest border, mm²; infinite unless listed.
    near2: Vec<f32>,
    /// Cells nearer than the lines reach.
    cells: Vec<u32>,
}

impl BorderLines {
    /// Counts what lies within the lines along borders between slots as solid: of the bits of a layer, and of its cores, whose
    /// sums are those of `regions`. `is_deep`: whether regions go right through.
    ///
    /// # Cost
    /// Nothing for a layer of one slot, else linear in its cells, and in those near borders.
    pub(super) fn add(
        &mut self,
        survey: &Survey,
        (slot_of, is_deep): (&[u16], bool),
        cores: &[Core<'_>],
        (bits, regions): (&mut [Bit], &mut [RegionShare]),
    ) {
        let settings = &survey.settings;
        let width_mm = f64::from(settings.border_walls) * settings.line_width_mm;
        let slot = |region: u16| slot_of.get(region as usize).map_or(UNPRINTED, |s| *s);
        let of_bits = bits.iter().map(|b| slot(b.region));
        let mut slots = of_bits.chain(cores.iter().map(|c| slot(c.region)));
        let first = slots.next();
        if width_mm <= 0.0 || slots.all(|s| Some(s) == first) {
            return;
        }
        self.field.begin(survey);
        for bit in bits.iter() {
            self.field.add(bit, slot(bit.region));
        }
        // Around a core lie only cells of its own region, unless regions go right through.
        for core in cores.iter().filter(|_| is_deep) {
            self.field.fill(core, slot(core.region));
        }
        self.measure(survey, width_mm);
        self.field.end();
        let step_mm = survey.grid.step_mm;
        for bit in bits {
            let share = self.share(bit.at, width_mm, step_mm);
            bit.solid_mm2 = bit.solid_mm2.max(share * bit.area_mm2);
        }
        // Cores only meet where regions go right through: then the cells of their borders lie in runs.
        for core in cores {
            let region = &mut regions[core.region as usize];
            for run in core.runs.iter().filter(|r| r.solid < 1.0) {
                let cells = run.cells();
                let first = self.cells.partition_point(|c| (*c as usize) < cells.start);
                let near = self.cells[first..].iter();
                for at in near.take_while(|c| (**c as usize) < cells.end) {
                    let more = self.share(*at, width_mm, step_mm) - f64::from(run.solid);
                    region.solid_mm2 += more.max(0.0) * survey.grid.cell_mm2();
                }
            }
        }
    }

    /// Measures, once the field has all shares.
    fn measure(&mut self, survey: &Survey, width_mm: f64) {
        for at in self.cells.drain(..) {
            self.near2[at as usize] = f32::INFINITY;
        }
        self.field.settle();
        let grid = &survey.grid;
        let [across, along] = grid.cells;
        self.near2
            .resize((across * along).max(self.near2.len()), f32::INFINITY);
        let (near2, cells) = (&mut self.near2, &mut self.cells);
        let reach = width_mm + 0.5 * grid.step_mm;
        let one = grid.centre(0, 0);
        let mut mark = |a: [f64; 2], b: [f64; 2]| {
            let range = |i: usize, most: usize| {
                let low = (a[i].min(b[i]) - reach - one[i]) / grid.step_mm;
                let high = (a[i].max(b[i]) + reach - one[i]) / grid.step_mm;
                low.ceil().max(0.0) as usize..((high.floor() + 1.0).max(0.0) as usize).min(most)
            };
            let (xs, ys) = (range(0, across), range(1, along));
            let d = [b[0] - a[0], b[1] - a[1]];
            let l2 = d[0] * d[0] + d[1] * d[1];
            for y in ys.clone() {
                for x in xs.clone() {
                    let p = grid.centre(x, y);
                    let v = [p[0] - a[0], p[1] - a[1]];
                    let t = match l2 > 0.0 {
                        true => ((v[0] * d[0] + v[1] * d[1]) / l2).clamp(0.0, 1.0),
                        false => 0.0,
                    };
                    let e = [v[0] - t * d[0], v[1] - t * d[1]];
                    let e2 = (e[0] * e[0] + e[1] * e[1]) as f32;
                    let at = y * across + x;
                    if f64::from(e2) < reach * reach && e2 < near2[at] {
                        if near2[at] == f32::INFINITY {
                            cells.push(at as u32);
                        }
                        near2[at] = e2;
                    }
                }
            }
        };
        self.field.each_square(|places| {
            let borders = |p: &&([f64; 2], u32, u32)| p.1 > 0 && p.2 > 0;
            let inner: Vec<[f64; 2]> = places.iter().filter(borders).map(|p| p.0).collect();
            match inner[..] {
                [] => {}
                [p] => mark(p, p),
                [p, q] => mark(p, q),
                _ => {
                    let count = inner.len() as f64;
                    let sum = |k: usize| inner.iter().map(|p| p[k]).sum::<f64>() / count;
                    let centre = [sum(0), sum(1)];
                    inner.iter().for_each(|p| mark(*p, centre));
                }
            }
        });
        cells.sort_unstable();
    }

    /// Share of a cell that lies within the lines.
    fn share(&self, at: u32, width_mm: f64, step_mm: f64) -> f64 {
        let near = self.near2.get(at as usize).map_or(f32::INFINITY, |n| *n);
        (0.5 + (width_mm - f64::from(near).sqrt()) / step_mm).clamp(0.0, 1.0)
    }
}
