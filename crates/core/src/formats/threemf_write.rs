//! 3MF out: a base material per slot, a colour group with a colour per region, one object per part, and one object of all of
//! them that the build names, so that a set stays together; units mm (core specification and materials extension).
//!
//! The package and its XML are written by the `lib3mf` crate, but for the rows of the meshes.

use super::objects::used;
use super::text::writable;
use super::zipped::with_changed;
use crate::Problem;
use crate::colour::Colour;
use crate::mesh::Mesh;
use lib3mf::{
    BaseMaterial, BaseMaterialGroup, BuildItem, ColorGroup, Component, Extension, MetadataEntry,
    Model, Object,
};
use rayon::prelude::*;
use std::io::Cursor;

/// What a slot prints with, or what a part is made of.
#[derive(Debug, Clone, PartialEq)]
pub struct SlotMaterial {
    /// Name of its spool.
    pub name: String,
    /// Colour it is shown in.
    pub colour: Colour,
    /// How much it hides, 0 to 1.
    pub opacity: f64,
}

/// A region's colour.
pub struct RegionColour {
    /// What it is called.
    pub name: String,
    /// The colour.
    pub colour: Colour,
    /// How much it hides, 0 to 1.
    pub opacity: f64,
}

/// One part to be written.
pub struct ColouredObject<'a> {
    /// Name of the part.
    pub name: &'a str,
    /// The mesh it is part of.
    pub mesh: &'a Mesh,
    /// Facets to write, with the region of each as an index into the regions' colours.
    pub facets: Vec<(u32, usize)>,
    /// The material of the part's own region, an index into the materials.
    pub material: usize,
    /// Added to every vertex, mm.
    pub shift: [f64; 3],
}

/// Everything that goes into a package.
pub struct Package<'a> {
    /// Name of the job.
    pub title: &'a str,
    /// A word on who owns shared space, and the like; empty for none.
    pub description: String,
    /// By slot.
    pub materials: Vec<SlotMaterial>,
    /// By region.
    pub regions: Vec<RegionColour>,
    /// The parts, highest rank first.
    pub objects: Vec<ColouredObject<'a>>,
    /// Whether a facet in the colour of its part's own material says nothing of its own: then the colour has the material's name.
    pub names_colours: bool,
    /// How far each piece of the whole is moved, mm; one of no move for a single piece.
    pub copies: Vec<[f64; 2]>,
}

/// A 3MF package.
///
/// Every facet names its region's colour; the object as a whole names the material of its own region's slot, which is what a
/// reader sees that knows only the core specification. Two regions of one colour are two colours of the group. Vertices are
/// renumbered per object in order of use; coordinates are written with the digits that bring the same number back. Facets
/// that name a vertex twice do not go out: the specification forbids them.
///
/// # Errors
/// `export-failed` if the writer refuses, which points to a fault of ours rather than of the model.
pub fn write_threemf(package: &Package<'_>) -> Result<Vec<u8>, Problem> {
    const MATERIALS: usize = 1;
    const COLOURS: usize = 2;
    const FIRST_PART: usize = 3;
    let alpha = |opacity: f64| (255.0 * opacity.clamp(0.0, 1.0)).round() as u8;
    let mut model = Model::new();
    model.required_extensions.push(Extension::Material);
    let mut tell = |name: &str, text: &str| {
        if !text.is_empty() {
            model
                .metadata
                .push(MetadataEntry::new(name.into(), writable(text)));
        }
    };
    tell("Title", package.title);
    tell("Application", "Varichrom");
    tell("Description", &package.description);
    let mut materials = BaseMaterialGroup::new(MATERIALS);
    for m in &package.materials {
        let [r, g, b] = m.colour.0;
        materials.materials.push(BaseMaterial::new(
            writable(&m.name),
            (r, g, b, alpha(m.opacity)),
        ));
    }
    model.resources.base_material_groups.push(materials);
    let mut group = ColorGroup::new(COLOURS);
    for region in &package.regions {
        let [r, g, b] = region.colour.0;
        group.colors.push((r, g, b, alpha(region.opacity)));
    }
    model.resources.color_groups.push(group);
    let mut whole = Object::new(FIRST_PART + package.objects.len());
    whole.name = Some(writable(package.title));
    let mut meshes = Vec::new();
    for (index, part) in package.objects.iter().enumerate() {
        let mut object = Object::new(FIRST_PART + index);
        object.name = Some(writable(part.name));
        object.pid = Some(MATERIALS);
        object.pindex = Some(part.material);
        let own = &package.materials[part.material];
        let is_own = |colour: usize| {
            let region = &package.regions[colour];
            package.names_colours && (region.colour, region.opacity) == (own.colour, own.opacity)
        };
        let rows = rows_of(part, COLOURS, &is_own);
        // A part of which nothing can be written is no object.
        let Some(rows) = rows else { continue };
        meshes.push(rows);
        // Its rows are put in afterwards.
        object.mesh = Some(lib3mf::Mesh::new());
        whole.components.push(Component::new(object.id));
        model.resources.objects.push(object);
    }
    let id = whole.id;
    model.resources.objects.push(whole);
    for [x, y] in &package.copies {
        let mut item = BuildItem::new(id);
        if *x != 0.0 || *y != 0.0 {
            item.transform = Some([1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, *x, *y, 0.0]);
        }
        model.build.items.push(item);
    }
    let failed = |e: String| {
        Problem::new(
            "export-failed",
            format!("The 3MF file could not be written: {e}"),
            "",
            "Export the STL files instead and tell us about this.",
        )
    };
    let written = model.to_writer(Cursor::new(Vec::new()));
    let written = written.map_err(|e| failed(e.to_string()))?.into_inner();
    let changed = |xml: Vec<u8>| with_rows(&in_the_core(xml), &meshes);
    with_changed(&written, "3D/3dmodel.model", changed).map_err(|e| failed(e.to_string()))
}

/// The rows of a part's mesh as XML, in runs; none if nothing of it can be written.
///
/// The library writes them one attribute at a time on one thread, and what it writes is packed before it can be looked at: of a
/// million facets that is most of the time. Where `p2` and `p3` are left out, `p1` holds for the whole triangle (core
/// specification 1.3, section 4.1.4.1).
fn rows_of(
    part: &ColouredObject<'_>,
    colours: usize,
    is_own: &(dyn Fn(usize) -> bool + Sync),
) -> Option<Vec<String>> {
    const RUN: usize = 1 << 14;
    let (vertices, triangles) = used(part);
    if triangles.is_empty() {
        return None;
    }
    let vertex = |v: &u32| {
        let p = part.mesh.vertices[*v as usize];
        let [x, y, z] = [0, 1, 2].map(|i| p[i] + part.shift[i]);
        format!("<vertex x=\"{x}\" y=\"{y}\" z=\"{z}\"/>\n")
    };
    let triangle = |([a, b, c], colour): &([u32; 3], usize)| {
        if is_own(*colour) {
            return format!("<triangle v1=\"{a}\" v2=\"{b}\" v3=\"{c}\"/>\n");
        }
        format!("<triangle v1=\"{a}\" v2=\"{b}\" v3=\"{c}\" pid=\"{colours}\" p1=\"{colour}\"/>\n")
    };
    let mut rows = vec!["<mesh>\n<vertices>\n".to_string()];
    rows.par_extend(
        vertices
            .par_chunks(RUN)
            .map(|run| run.iter().map(vertex).collect()),
    );
    rows.push("</vertices>\n<triangles>\n".into());
    rows.par_extend(
        triangles
            .par_chunks(RUN)
            .map(|run| run.iter().map(triangle).collect()),
    );
    rows.push("</triangles>\n</mesh>".into());
    Some(rows)
}

/// The XML with the rows of each mesh in place of an empty one. No name can hold a mesh: in an attribute, < is written as an
/// entity.
fn with_rows(xml: &[u8], meshes: &[Vec<String>]) -> Vec<u8> {
    const END: &str = "</mesh>";
    let text = String::from_utf8_lossy(xml);
    let size: usize = meshes.iter().flatten().map(String::len).sum();
    let mut out = String::with_capacity(xml.len() + size);
    let mut rest = &*text;
    for rows in meshes {
        let (before, after) = rest
            .split_once("<mesh>")
            .expect("the library writes a mesh for each object of one");
        out.push_str(before);
        out.extend(rows.iter().map(String::as_str));
        let (_, after) = after.split_once(END).expect("a mesh that ends");
        rest = after;
    }
    out.push_str(rest);
    out.into_bytes()
}

/// Base materials are elements of the core specification (1.3, section 5.1); the library writes them into the namespace of the
/// materials extension, where other readers do not find them.
fn in_the_core(xml: Vec<u8>) -> Vec<u8> {
    const LAST: &[u8] = b"</m:basematerials>";
    let Some(at) = xml.windows(LAST.len()).position(|w| w == LAST) else {
        return xml;
    };
    let end = at + LAST.len();
    // No name can hold these: in an attribute, < is written as an entity.
    let head = String::from_utf8_lossy(&xml[..end]);
    let head = head
        .replace("<m:base", "<base")
        .replace("</m:base", "</base");
    [head.as_bytes(), &xml[end..]].concat()
}
