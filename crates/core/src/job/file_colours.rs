//! Colours that a file brings: from its palette and its corners to regions.

use crate::colour::Colour;
use crate::formats::{FileColours, NO_COLOUR};
use crate::model::OpenMesh;
use std::collections::HashMap;

/// Colours that are kept one by one; a file with more has them reduced.
const MOST_KEPT: usize = 24;

/// A colour to become a region, with the facets it covers.
pub(super) struct Found {
    /// Name in the file; empty if it has none.
    pub(super) name: String,
    pub(super) colour: Colour,
    /// How much it hides, 0 to 1.
    pub(super) opacity: f64,
}

/// The colours of a model as regions: the list, for each facet its number in the list or `None`, and which of the list stand for
/// colours that were brought together. `seen`: colours that stand for each facet under a picture.
///
/// Named colours and a moderate number of plain ones are kept as they are. Colours that vary over facets, and plain ones
/// beyond that number, are brought together into at most `most` colours: each facet then has the one nearest to the mean
/// of its corners, until those that blend are divided (see `blended`).
pub(super) fn colours_of(
    open: &OpenMesh,
    colours: &FileColours,
    seen: &[Vec<Colour>],
    most: usize,
) -> (Vec<Found>, Vec<Option<u32>>, std::ops::Range<usize>) {
    let areas = open.facet_areas();
    let mut of_palette = vec![0.0; colours.palette.len()];
    for (colour, area) in colours.facets.iter().zip(areas) {
        if *colour != NO_COLOUR {
            of_palette[*colour as usize] += area.max(f64::MIN_POSITIVE);
        }
    }
    let used: Vec<usize> = (0..of_palette.len())
        .filter(|c| of_palette[*c] > 0.0)
        .collect();
    let is_kept = |c: usize| !colours.palette[c].name.is_empty() || !colours.is_blended();
    let kept: Vec<usize> = used.iter().copied().filter(|c| is_kept(*c)).collect();
    let keeps_all = kept.len() <= MOST_KEPT;

    let mut list: Vec<Found> = Vec::new();
    let mut number: HashMap<(String, Colour, u8), u32> = HashMap::new();
    let mut of_colour: Vec<Option<u32>> = vec![None; colours.palette.len()];
    let mut samples: Vec<(Colour, f64)> = Vec::new();
    for c in used {
        let entry = &colours.palette[c];
        if keeps_all && is_kept(c) {
            let alpha = (255.0 * entry.opacity).round() as u8;
            let key = (entry.name.clone(), entry.colour, alpha);
            let n = *number.entry(key).or_insert_with(|| {
                list.push(Found {
                    name: entry.name.clone(),
                    colour: entry.colour,
                    opacity: entry.opacity,
                });
                list.len() as u32 - 1
            });
            of_colour[c] = Some(n);
        } else {
            samples.push((entry.colour, of_palette[c]));
        }
    }
    let mean = |of: &[Colour]| {
        let sum = of.iter().fold([0.0; 3], |s, c| {
            let l = c.linear();
            [0, 1, 2].map(|i| s[i] + l[i] / of.len() as f64)
        });
        Colour::from_linear(sum)
    };
    for (facet, corners) in &colours.varying {
        samples.push((mean(corners), areas[*facet as usize]));
    }
    for (laid, seen) in colours.pictured.iter().zip(seen) {
        let area = areas[laid.facet as usize] / seen.len().max(1) as f64;
        samples.extend(seen.iter().map(|c| (*c, area)));
    }
    let centres = reduce(&samples, most);
    let first = list.len() as u32;
    list.extend(centres.iter().map(|c| Found {
        name: String::new(),
        colour: *c,
        opacity: 1.0,
    }));
    let labs: Vec<[f64; 3]> = centres.iter().map(|c| c.lab()).collect();
    let mut known: HashMap<Colour, u32> = HashMap::new();
    let mut near = |c: Colour| {
        *known
            .entry(c)
            .or_insert_with(|| first + nearest(&labs, c) as u32)
    };
    let mut of_facet: Vec<Option<u32>> = colours
        .facets
        .iter()
        .map(|c| {
            let c = (*c != NO_COLOUR).then_some(*c as usize)?;
            Some(of_colour[c].unwrap_or_else(|| near(colours.palette[c].colour)))
        })
        .collect();
    for (facet, corners) in &colours.varying {
        of_facet[*facet as usize] = Some(near(mean(corners)));
    }
    for (laid, seen) in colours.pictured.iter().zip(seen) {
        of_facet[laid.facet as usize] = Some(near(mean(seen)));
    }
    let blended = first as usize..list.len();
    (list, of_facet, blended)
}

fn distance2(a: [f64; 3], b: [f64; 3]) -> f64 {
    (0..3).map(|i| (a[i] - b[i]).powi(2)).sum()
}

/// The number of the centre that a colour is nearest to, in CIELAB.
pub(super) fn nearest(centres: &[[f64; 3]], colour: Colour) -> usize {
    let lab = colour.lab();
    let from = |i: &usize| distance2(centres[*i], lab);
    (0..centres.len())
        .min_by(|a, b| from(a).total_cmp(&from(b)))
        .unwrap_or(0)
}

/// At most `most` colours that stand for weighted samples: k-means in CIELAB, begun with the heaviest colour and then
/// always the one furthest from those chosen. The same input gives the same colours.
fn reduce(samples: &[(Colour, f64)], most: usize) -> Vec<Colour> {
    // Equal colours count once, in order of first sight; a scan has few besides what rounding makes.
    let mut seen: HashMap<Colour, usize> = HashMap::new();
    let mut points: Vec<(Colour, [f64; 3], f64)> = Vec::new();
    for (colour, weight) in samples {
        let at = *seen.entry(*colour).or_insert_with(|| {
            points.push((*colour, colour.lab(), 0.0));
            points.len() - 1
        });
        points[at].2 += weight;
    }
    if points.len() <= most {
        return points.into_iter().map(|p| p.0).collect();
    }
    let heaviest = (0..points.len())
        .max_by(|a, b| points[*a].2.total_cmp(&points[*b].2).then(b.cmp(a)))
        .unwrap_or(0);
    let mut centres = vec![points[heaviest].1];
    let mut apart: Vec<f64> = points.iter().map(|p| distance2(p.1, centres[0])).collect();
    while centres.len() < most.max(1) {
        // Weight counts a little, so that one stray corner does not take a colour of its own.
        let pull = |i: &usize| apart[*i] * points[*i].2.sqrt();
        let Some(next) =
            (0..points.len()).max_by(|a, b| pull(a).total_cmp(&pull(b)).then(b.cmp(a)))
        else {
            break;
        };
        let lab = points[next].1;
        centres.push(lab);
        for (d, p) in apart.iter_mut().zip(&points) {
            *d = d.min(distance2(p.1, lab));
        }
    }
    const ROUNDS: usize = 16;
    let mut linear = vec![[0.0; 3]; centres.len()];
    for _ in 0..ROUNDS {
        let mut sums = vec![([0.0; 3], [0.0; 3], 0.0); centres.len()];
        for (colour, lab, weight) in &points {
            let from = |i: &usize| distance2(centres[*i], *lab);
            let c = (0..centres.len())
                .min_by(|a, b| from(a).total_cmp(&from(b)))
                .unwrap_or(0);
            let light = colour.linear();
            for i in 0..3 {
                sums[c].0[i] += weight * lab[i];
                sums[c].1[i] += weight * light[i];
            }
            sums[c].2 += weight;
        }
        for (c, (lab, light, weight)) in sums.into_iter().enumerate() {
            if weight > 0.0 {
                centres[c] = lab.map(|v| v / weight);
                linear[c] = light.map(|v| v / weight);
            }
        }
    }
    let mut out: Vec<Colour> = linear.into_iter().map(Colour::from_linear).collect();
    let mut kept = Vec::new();
    out.retain(|c| {
        let is_new = !kept.contains(c);
        kept.push(*c);
        is_new
    });
    out
}
