//! The names that 3MF prescribes for its namespaces and relations; to be written and compared letter by letter.
//!
//! Source: 3MF Consortium, Core Specification, Materials and Properties Extension, Production Extension; ISO/IEC 25422.

/// Namespace of the core specification.
pub const CORE: &str = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02";

/// Namespace of the draft that came before the core specification.
pub const DRAFT: &str = "http://schemas.microsoft.com/3dmanufacturing/2013/01";

/// Namespace of the materials extension.
pub const MATERIAL: &str = "http://schemas.microsoft.com/3dmanufacturing/material/2015/02";

/// What the namespaces of all editions of the materials and production extensions begin with.
pub const READ_EXTENSIONS: [&str; 2] = [
    "http://schemas.microsoft.com/3dmanufacturing/material/",
    "http://schemas.microsoft.com/3dmanufacturing/production/",
];

/// Relation of a package to its model.
pub const MODEL_RELATION: &str = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel";
