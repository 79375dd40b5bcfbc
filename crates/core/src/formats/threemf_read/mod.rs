//! 3MF in: the core specification with units, components, transforms and build items; the materials extension with
//! every property resolved to the nearest plain colour; objects kept in files of their own.
//!
//! Source: 3MF Consortium, "3D Manufacturing Format Core Specification" and "Materials and Properties Extension".
//! Own reader: why is in docs/architecture.md, "Formats".

mod groups;
mod package;
mod parse;
mod shape;
mod unfold;

use super::Reading;
use super::model_file::{ModelFile, Origin, Units, leave_out};
use super::zipped::Budget;
use crate::Problem;
use package::Package;
use std::collections::HashMap;
use unfold::Unfolding;

pub(super) fn problem(code: &str, message: impl Into<String>, place: impl Into<String>) -> Problem {
    Problem::new(
        &format!("3mf-{code}"),
        message,
        place,
        "Export the file again, or export the model as STL or OBJ.",
    )
}

/// The facets of a 3MF package, placed as its build says.
///
/// # Errors
/// With the byte of the model part: XML that cannot be read, references to what is not there, components that hold
/// themselves, a part that unpacks to more than a gigabyte, extensions that are required and not known.
pub(super) fn read(
    bytes: &[u8],
    reading: &Reading<'_>,
    budget: Budget,
) -> Result<ModelFile, Problem> {
    let mut package = Package::open(bytes, budget)?;
    let root = package.root()?;
    let mut models = HashMap::new();
    let mut waiting = vec![root.clone()];
    while let Some(path) = waiting.pop() {
        if models.contains_key(&path) {
            continue;
        }
        let model = package.model(&path, reading)?;
        waiting.extend(model.elsewhere().filter(|p| *p != path));
        models.insert(path, model);
    }
    let main = &models[&root];
    let mut origin = Origin::plain("3MF");
    origin.units = Units {
        is_stated: true,
        ..main.units
    };
    origin.keeps_pieces_apart = true;
    origin.metadata.clone_from(&main.metadata);
    let mut left_out: Vec<String> = Vec::new();
    let mut paths: Vec<&String> = models.keys().collect();
    paths.sort_unstable();
    for note in paths.iter().flat_map(|p| &models[*p].left_out) {
        leave_out(&mut left_out, note);
    }
    let mut unfolding = Unfolding::new(&models, main.units.mm);
    let mut pictures: Vec<&String> = models.values().flat_map(|m| m.pictures.values()).collect();
    pictures.sort_unstable();
    pictures.dedup();
    for path in pictures {
        if let Err(why) = unfolding.picture(path, package.file(path)?) {
            leave_out(&mut left_out, &why);
        }
    }
    unfolding.build(&root, reading)?;
    left_out.extend(unfolding.left_out());
    origin.left_out = left_out;
    unfolding.finish(origin)
}
