//! Bytes to models and back. Formats are told apart by content, never by a file's ending.

mod model_file;
mod mtl;
mod obj;
mod obj_materials;
mod obj_write;
mod objects;
mod pixels;
mod ply;
mod ply_body;
mod ply_header;
mod ply_write;
mod read;
mod stl_ascii;
mod stl_colours;
mod stl_read;
mod stl_write;
mod text;
pub mod threemf_names;
mod threemf_read;
mod threemf_write;
mod vrml;
mod vrml_write;
mod zipped;

pub use model_file::{
    FileColour, FileColours, LARGEST_MM, MOST_FACETS, ModelFile, NO_COLOUR, Origin, Pictured,
    Piece, SurfacePicture, Units,
};
pub use obj_write::write_obj;
pub use pixels::{Pixels, is_picture};
pub use ply_write::write_ply;
pub use read::{Read, Reading, read};
pub use stl_read::{Soup, StlError, StlKind, read_stl};
pub use stl_write::write_stl;
pub use text::writable;
pub use threemf_write::{ColouredObject, Package, RegionColour, SlotMaterial, write_threemf};
pub use vrml_write::write_vrml;
pub use zipped::{PROJECT_LIST, bundle, is_project, unzip_files, zip_files};
