//! Bytes to meshes and back. Formats are told apart by content, never by a file's ending.

mod stl_ascii;
mod stl_read;
mod stl_write;
mod threemf;

pub use stl_read::{Soup, StlError, StlKind, read_stl};
pub use stl_write::write_stl;
pub use threemf::{ColouredObject, write_threemf};
