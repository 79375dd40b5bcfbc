//! OBJ with its material file (as Wavefront published both formats, 1995): an object for each part, a material for each region.

use super::objects::{listed, word_names};
use super::threemf_write::Package;
use super::zipped::zip_files;
use crate::Problem;
use std::fmt::Write;

/// A ZIP with `model.obj` and `model.mtl`. Units are mm, which the format itself cannot say: a comment does.
///
/// # Errors
/// `export-failed` if the archive cannot be written.
pub fn write_obj(package: &Package<'_>) -> Result<Vec<u8>, Problem> {
    let materials = word_names(package);
    let mut obj = String::from("# units: mm, z up\nmtllib model.mtl\n");
    let mut first = 1;
    for object in listed(package) {
        // Names of objects go to the end of the line, but not every reader goes as far.
        let name = object.name.split_whitespace().collect::<Vec<_>>().join("_");
        let _ = writeln!(obj, "o {}", if name.is_empty() { "part" } else { &name });
        for [x, y, z] in &object.vertices {
            let _ = writeln!(obj, "v {x} {y} {z}");
        }
        let mut facets = object.facets.clone();
        // A stable sort: within a material they stay in order.
        facets.sort_by_key(|(_, region)| *region);
        let mut last = None;
        for (facet, region) in facets {
            if last != Some(region) {
                let _ = writeln!(obj, "usemtl {}", materials[region]);
                last = Some(region);
            }
            let [a, b, c] = facet.map(|v| v + first);
            let _ = writeln!(obj, "f {a} {b} {c}");
        }
        first += object.vertices.len() as u32;
    }
    let mut mtl = String::new();
    for (region, name) in package.regions.iter().zip(&materials) {
        let [r, g, b] = region.colour.0.map(|c| f64::from(c) / 255.0);
        let _ = writeln!(
            mtl,
            "newmtl {name}\nKd {r:.6} {g:.6} {b:.6}\nd {}\n",
            region.opacity
        );
    }
    zip_files(&[
        ("model.obj".into(), obj.into_bytes()),
        ("model.mtl".into(), mtl.into_bytes()),
    ])
}
