//! 3MF out: one object per part, a colour per facet, units mm (core specification and materials extension).
//!
//! The package and its XML are written by the `lib3mf` crate.

use crate::Problem;
use crate::colour::Colour;
use crate::mesh::Mesh;
use lib3mf::{BuildItem, ColorGroup, Extension, MetadataEntry, Model, Object, Triangle, Vertex};
use std::io::Cursor;

/// One part to be written.
pub struct ColouredObject<'a> {
    /// Name of the part.
    pub name: &'a str,
    /// The mesh it is part of.
    pub mesh: &'a Mesh,
    /// Facets to write, with an index into the palette for each.
    pub facets: Vec<(u32, usize)>,
    /// Added to every vertex, mm.
    pub shift: [f64; 3],
}

/// A 3MF package of the objects, coloured from the palette.
///
/// `copies`: how far each piece of the whole is moved, mm; one of no move for a single piece.
///
/// Vertices are renumbered per object in order of use; coordinates are written with the digits that bring the same
/// number back.
///
/// # Errors
/// `export-failed` if the writer refuses, which points to a fault of ours rather than of the model.
pub fn write_threemf(
    title: &str,
    palette: &[Colour],
    objects: &[ColouredObject<'_>],
    copies: &[[f64; 2]],
) -> Result<Vec<u8>, Problem> {
    const COLOURS: usize = 1;
    let mut model = Model::new();
    model.required_extensions.push(Extension::Material);
    model
        .metadata
        .push(MetadataEntry::new("Title".into(), title.into()));
    model
        .metadata
        .push(MetadataEntry::new("Application".into(), "Varichrom".into()));
    let mut group = ColorGroup::new(COLOURS);
    group.colors = palette
        .iter()
        .map(|c| (c.0[0], c.0[1], c.0[2], 255))
        .collect();
    model.resources.color_groups.push(group);
    for (index, part) in objects.iter().enumerate() {
        let id = COLOURS + 1 + index;
        let mut object = Object::new(id);
        object.name = Some(part.name.to_string());
        // A package reader wants a colour for the object when its facets have one.
        object.pid = Some(COLOURS);
        object.pindex = Some(part.facets.first().map_or(0, |f| f.1));
        let mut mesh = lib3mf::Mesh::with_capacity(part.facets.len() / 2 + 2, part.facets.len());
        let mut number = vec![usize::MAX; part.mesh.vertices.len()];
        for (facet, colour) in &part.facets {
            let ids = part.mesh.facets[*facet as usize].map(|v| {
                let n = &mut number[v as usize];
                if *n == usize::MAX {
                    *n = mesh.vertices.len();
                    let p = part.mesh.vertices[v as usize];
                    let [x, y, z] = [0, 1, 2].map(|i| p[i] + part.shift[i]);
                    mesh.vertices.push(Vertex::new(x, y, z));
                }
                *n
            });
            let mut triangle = Triangle::with_material(ids[0], ids[1], ids[2], COLOURS);
            triangle.p1 = Some(*colour);
            triangle.p2 = Some(*colour);
            triangle.p3 = Some(*colour);
            mesh.triangles.push(triangle);
        }
        object.mesh = Some(mesh);
        model.resources.objects.push(object);
    }
    for [x, y] in copies {
        for index in 0..objects.len() {
            let mut item = BuildItem::new(COLOURS + 1 + index);
            if *x != 0.0 || *y != 0.0 {
                item.transform = Some([1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, *x, *y, 0.0]);
            }
            model.build.items.push(item);
        }
    }
    let written = model.to_writer(Cursor::new(Vec::new())).map_err(|e| {
        Problem::new(
            "export-failed",
            format!("The 3MF file could not be written: {e}"),
            "",
            "Export the STL files instead and tell us about this.",
        )
    })?;
    Ok(written.into_inner())
}
