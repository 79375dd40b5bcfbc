//! What makes up the shape of an object: its vertices and triangles, and where it is put.

use super::parse::{Instance, Parser, Property, attribute, numbers};
use crate::Problem;
use crate::formats::model_file::{MOST_FACETS, too_much};
use crate::formats::text::is_usable;
use crate::geometry::Affine;
use quick_xml::events::BytesStart;

impl Parser<'_> {
    pub(super) fn instance(&self, e: &BytesStart<'_>) -> Result<Instance, Problem> {
        let mut transform = Affine::IDENTITY;
        if let Some(text) = attribute(e, "transform") {
            let values: Option<Vec<f64>> = numbers(&text);
            match values.as_deref() {
                Some(values) if values.len() == 12 && values.iter().all(|v| v.is_finite()) => {
                    for (i, v) in values.iter().enumerate() {
                        transform.0[i / 3][i % 3] = *v;
                    }
                }
                _ => return Err(self.bad("a transform needs twelve numbers")),
            }
        }
        let path = attribute(e, "path").map(|p| p.trim_start_matches('/').to_string());
        Ok(Instance {
            object: self.number(e, "objectid")?,
            path,
            transform,
        })
    }

    pub(super) fn vertex(&mut self, e: &BytesStart<'_>) -> Result<(), Problem> {
        let mut p = [f64::NAN; 3];
        for a in e.attributes().with_checks(false).flatten() {
            let axis = match a.key.as_ref() {
                "x" => 0,
                "y" => 1,
                "z" => 2,
                _ => continue,
            };
            p[axis] = a.value.trim().parse().unwrap_or(f64::NAN);
        }
        if !is_usable(&p) {
            return Err(self.bad("a vertex is not three usable numbers"));
        }
        if let Some((_, object)) = &mut self.object {
            object.vertices.push(p);
        }
        Ok(())
    }

    pub(super) fn triangle(&mut self, e: &BytesStart<'_>) -> Result<(), Problem> {
        let mut v = [u32::MAX; 3];
        let mut p = [None; 3];
        let mut pid = None;
        for a in e.attributes().with_checks(false).flatten() {
            let number = || -> Option<u32> { a.value.trim().parse().ok() };
            match a.key.as_ref() {
                "v1" => v[0] = number().unwrap_or(u32::MAX),
                "v2" => v[1] = number().unwrap_or(u32::MAX),
                "v3" => v[2] = number().unwrap_or(u32::MAX),
                "pid" => pid = number(),
                "p1" => p[0] = number(),
                "p2" => p[1] = number(),
                "p3" => p[2] = number(),
                _ => {}
            }
        }
        self.facets += 1;
        if self.facets > MOST_FACETS {
            return Err(too_much("20 million facets", self.place()));
        }
        let Some((_, object)) = &mut self.object else {
            return Ok(());
        };
        let known = object.vertices.len();
        if v.iter().any(|i| *i as usize >= known) {
            let what = format!("a triangle asks for a vertex that is not there ({known} are)");
            return Err(self.bad(&what));
        }
        let facet = object.facets.len() as u32;
        object.facets.push(v);
        if let Some(p1) = p[0]
            && let Some(group) = pid.or(object.property.map(|(g, _)| g))
        {
            object.properties.push(Property {
                facet,
                group,
                corners: [p1, p[1].unwrap_or(p1), p[2].unwrap_or(p1)],
            });
        }
        Ok(())
    }
}
