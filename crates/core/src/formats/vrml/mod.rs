//! VRML97 in: `IndexedFaceSet` with a colour for each face or corner, shapes told by measures, grouping nodes, `Transform`,
//! `DEF` and `USE`, prototypes.
//!
//! Source: ISO/IEC 14772-1:1997. Own reader: see docs/architecture.md, "Formats".

mod faces;
mod parse;
mod scene;
mod shapes;
mod words;

use super::Reading;
use super::model_file::{ModelFile, Origin};
use crate::Problem;

pub(super) const FORMAT: &str = "VRML97";

/// The facets of a VRML97 file, placed as its transforms say.
///
/// # Errors
/// With the line: text that is not VRML97, nodes nested too deep, numbers that cannot be used, vertex or colour
/// numbers out of range, a file without faces, or one that unfolds past `MOST_FACETS`.
pub(super) fn read(bytes: &[u8], reading: &Reading<'_>) -> Result<ModelFile, Problem> {
    if !bytes.starts_with(b"#VRML V2.0") {
        return Err(Problem::new(
            "vrml-version",
            "The file is written in an older VRML",
            "line 1",
            "Export it as VRML97 (VRML 2.0), or as STL or OBJ.",
        ));
    }
    let file = parse::parse(bytes, reading)?;
    let mut origin = Origin::plain(FORMAT);
    origin.left_out.clone_from(&file.left_out);
    let out = scene::unfold(&file, reading, &mut origin.left_out)?;
    out.finish(origin)
}
