//! Gradients as steps of one colour each, or as their mean.

use crate::colour::Colour;
use crate::shapes::{Area, Winding};
use usvg::{BaseGradient, LinearGradient, RadialGradient};

/// One step: where, in which colour, and how much it hides.
type Step = (Area, Colour, f64);

/// Colours of a gradient along it, in linear light, with how much each hides.
struct Along(Vec<(f64, [f64; 4])>);

impl Along {
    fn of(gradient: &BaseGradient) -> Along {
        let stop = |s: &usvg::Stop| {
            let c = s.color();
            let [r, g, b] = Colour([c.red, c.green, c.blue]).linear();
            let opacity = f64::from(s.opacity().get());
            (f64::from(s.offset().get()), [r, g, b, opacity])
        };
        Along(gradient.stops().iter().map(stop).collect())
    }

    fn at(&self, t: f64) -> [f64; 4] {
        let Some(next) = self.0.iter().position(|(offset, _)| *offset > t) else {
            return self.0.last().map_or([0.0; 4], |(_, c)| *c);
        };
        let (t1, c1) = self.0[next];
        let Some((t0, c0)) = next.checked_sub(1).map(|i| self.0[i]) else {
            return c1;
        };
        let share = (t - t0) / (t1 - t0);
        std::array::from_fn(|i| c0[i] + share * (c1[i] - c0[i]))
    }

    /// The mean between two places.
    fn mean(&self, from: f64, to: f64) -> (Colour, f64) {
        const LOOKS: usize = 64;
        let mut sum = [0.0; 4];
        for k in 0..LOOKS {
            let t = from + (to - from) * (k as f64 + 0.5) / LOOKS as f64;
            let c = self.at(t);
            (0..4).for_each(|i| sum[i] += c[i] / LOOKS as f64);
        }
        (Colour::from_linear([sum[0], sum[1], sum[2]]), sum[3])
    }
}

/// A map from the gradient's own frame to mm.
fn framed<'a>(
    gradient: &BaseGradient,
    to_mm: &'a dyn Fn(f64, f64) -> [f64; 2],
) -> impl Fn(f64, f64) -> [f64; 2] + 'a {
    let t = gradient.transform();
    let [sx, kx, ky, sy, tx, ty] = [t.sx, t.kx, t.ky, t.sy, t.tx, t.ty].map(f64::from);
    move |x, y| to_mm(sx * x + kx * y + tx, ky * x + sy * y + ty)
}

/// The mean where one step is wanted, or where the gradient is repeated.
fn plain(area: &Area, gradient: &BaseGradient, steps: usize) -> Option<Vec<Step>> {
    let is_padded = gradient.spread_method() == usvg::SpreadMethod::Pad;
    (steps < 2 || !is_padded).then(|| {
        let (colour, opacity) = Along::of(gradient).mean(0.0, 1.0);
        vec![(area.clone(), colour, opacity)]
    })
}

/// Cuts what is left of an area by ever further bounds, each step between two of them.
fn cut(
    area: Area,
    gradient: &BaseGradient,
    steps: usize,
    within: impl Fn(f64) -> Area,
) -> Vec<Step> {
    let along = Along::of(gradient);
    let mut rest = area;
    let mut found = Vec::new();
    for k in 0..steps {
        let (from, to) = (k as f64 / steps as f64, (k + 1) as f64 / steps as f64);
        let (colour, opacity) = along.mean(from, to);
        let (inside, outside) = match k + 1 == steps {
            true => (rest, Area::default()),
            false => rest.split(&within(to)),
        };
        if !inside.is_empty() {
            found.push((inside, colour, opacity));
        }
        rest = outside;
    }
    found
}

pub(super) fn linear(
    area: Area,
    gradient: &LinearGradient,
    steps: usize,
    to_mm: &dyn Fn(f64, f64) -> [f64; 2],
) -> Vec<Step> {
    if let Some(mean) = plain(&area, gradient, steps) {
        return mean;
    }
    let [x1, y1, x2, y2] =
        [gradient.x1(), gradient.y1(), gradient.x2(), gradient.y2()].map(f64::from);
    let place = framed(gradient, to_mm);
    let (dx, dy) = (x2 - x1, y2 - y1);
    // A half plane, as far as any page reaches.
    const FAR: f64 = 1e4;
    cut(area, gradient, steps, |t| {
        let at = |along: f64, across: f64| {
            place(x1 + along * dx - across * dy, y1 + along * dy + across * dx)
        };
        Area::wound(
            &[vec![at(t, -FAR), at(t, FAR), at(-FAR, FAR), at(-FAR, -FAR)]],
            Winding::NonZero,
        )
    })
}

pub(super) fn radial(
    area: Area,
    gradient: &RadialGradient,
    steps: usize,
    to_mm: &dyn Fn(f64, f64) -> [f64; 2],
) -> Vec<Step> {
    if let Some(mean) = plain(&area, gradient, steps) {
        return mean;
    }
    let [cx, cy, fx, fy] =
        [gradient.cx(), gradient.cy(), gradient.fx(), gradient.fy()].map(f64::from);
    let r = f64::from(gradient.r().get());
    let place = framed(gradient, to_mm);
    cut(area, gradient, steps, |t| {
        const CORNERS: usize = 180;
        // From the focus to the outer circle (SVG 1.1, 13.2.3).
        let (x, y) = (fx + t * (cx - fx), fy + t * (cy - fy));
        let ring = (0..CORNERS).map(|k| {
            let a = std::f64::consts::TAU * k as f64 / CORNERS as f64;
            place(x + t * r * a.cos(), y + t * r * a.sin())
        });
        Area::wound(&[ring.collect()], Winding::NonZero)
    })
}
