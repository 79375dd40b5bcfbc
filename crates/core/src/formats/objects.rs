//! The objects of a package, each with vertices of its own, for formats that list them.

use super::threemf_write::{ColouredObject, Package};

/// One object at one place.
pub(super) struct Listed {
    /// Name, with a number behind it where a piece is printed several times.
    pub(super) name: String,
    /// Places, mm.
    pub(super) vertices: Vec<[f64; 3]>,
    /// Numbers of vertices, with the region of each as an index into the regions' colours.
    pub(super) facets: Vec<([u32; 3], usize)>,
    /// How much of what lies behind it hides, 0 to 1.
    pub(super) opacity: f64,
}

/// Vertices of a part in order of use, and its facets by them; facets that name a vertex twice are left out.
pub(super) fn used(part: &ColouredObject<'_>) -> (Vec<u32>, Vec<([u32; 3], usize)>) {
    let mut number = vec![u32::MAX; part.mesh.vertices.len()];
    let mut vertices: Vec<u32> = Vec::new();
    let mut facets: Vec<([u32; 3], usize)> = Vec::with_capacity(part.facets.len());
    for (facet, colour) in &part.facets {
        let [a, b, c] = part.mesh.facets[*facet as usize];
        if a == b || b == c || c == a {
            continue;
        }
        let ids = [a, b, c].map(|v| {
            let n = &mut number[v as usize];
            if *n == u32::MAX {
                *n = vertices.len() as u32;
                vertices.push(v);
            }
            *n
        });
        facets.push((ids, *colour));
    }
    (vertices, facets)
}

/// All objects of a package, piece by piece.
pub(super) fn listed(package: &Package<'_>) -> Vec<Listed> {
    let mut found = Vec::new();
    for (piece, [dx, dy]) in package.copies.iter().enumerate() {
        for object in &package.objects {
            let (vertices, facets) = used(object);
            if facets.is_empty() {
                continue;
            }
            let [x, y, z] = object.shift;
            let by = [x + dx, y + dy, z];
            let place = |v: &u32| {
                let p = object.mesh.vertices[*v as usize];
                [0, 1, 2].map(|i| p[i] + by[i])
            };
            found.push(Listed {
                name: match package.copies.len() {
                    1 => object.name.to_string(),
                    _ => format!("{} {}", object.name, piece + 1),
                },
                vertices: vertices.iter().map(place).collect(),
                facets,
                opacity: (package.materials.get(object.material)).map_or(1.0, |m| m.opacity),
            });
        }
    }
    found
}

/// Names of regions as formats need them that part words by spaces: letters, digits and `_`, each only once.
pub(super) fn word_names(package: &Package<'_>) -> Vec<String> {
    let mut names: Vec<String> = Vec::new();
    for region in &package.regions {
        let plain = |c: char| if c.is_alphanumeric() { c } else { '_' };
        let own: String = region.name.chars().map(plain).collect();
        let own = if own.is_empty() { "colour".into() } else { own };
        let mut name = own.clone();
        let mut further = 2;
        while names.contains(&name) {
            name = format!("{own}_{further}");
            further += 1;
        }
        names.push(name);
    }
    names
}
