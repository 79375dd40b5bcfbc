//! Bytes to meshes and back. Formats are told apart by content, never by a file's ending.

mod stl_ascii;
mod stl_read;
mod stl_write;
mod threemf;
mod wire;
mod zipped;

pub use stl_read::{Soup, StlError, StlKind, read_stl};
pub use stl_write::write_stl;
pub use threemf::{ColouredObject, write_threemf};
pub use wire::{mesh_bytes, partition_bytes};
pub use zipped::zip_files;
