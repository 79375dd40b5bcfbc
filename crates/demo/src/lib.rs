//! The demo: models of the Grindle Quay museum shop, its rack of spools, and a job already planned. All made by
//! code, all names invented.

mod coaster;
mod drawn_jobs;
mod float_ring;
mod gull;
mod gull_job;
mod letters;
mod pennant;
mod pictures;
mod pier_light;
mod plaque;
mod rack;
mod shop;
mod solids;
mod sphere;
mod tiles;
mod writers;

pub use coaster::{COASTER_POINTS, COASTER_RADIUS_MM, compass_coaster};
pub use drawn_jobs::file_beside;
pub use float_ring::float_in_ring;
pub use gull::gull;
pub use pennant::{PENNANT, PENNANT_FILE, pennant_model};
pub use pictures::{DUSK_FILE, POSTCARD_FILE, dusk, postcard};
pub use pier_light::pier_light;
pub use plaque::{
    PLAQUE_FIRST_STROKE_MM, PLAQUE_FLOOR_MM, PLAQUE_LETTERS, PLAQUE_LINES, tide_plaque,
};
pub use rack::{printer_report, printers, rack};
pub use shop::{DemoJob, demo_jobs};
pub use solids::{box_mesh, extrude, revolve};
pub use sphere::subdivided_sphere;
pub use tiles::{TILE_TOPS_MM, signal_tiles};
pub use writers::{PlyKind, obj, ply, threemf, threemf_package, vrml};

use varichrom_core::mesh::Mesh;

/// Several closed shells as one mesh, vertices not shared between them.
pub fn together(shells: &[Mesh]) -> Mesh {
    let mut all = Mesh {
        vertices: Vec::new(),
        facets: Vec::new(),
    };
    for shell in shells {
        let base = all.vertices.len() as u32;
        all.vertices.extend(&shell.vertices);
        all.facets
            .extend(shell.facets.iter().map(|f| f.map(|v| v + base)));
    }
    all
}

/// A binary STL file of a whole mesh.
pub fn stl(mesh: &Mesh, label: &str) -> Vec<u8> {
    varichrom_core::formats::write_stl(mesh, 0..mesh.facets.len() as u32, label)
}
