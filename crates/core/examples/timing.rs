use std::sync::Arc;
use std::time::Instant;
use varichrom_core::{layers::*, machine::Printer, mesh::*};
fn main() {
    for (name, m) in [
        ("pier", varichrom_demo::pier_light()),
        ("s7", varichrom_demo::subdivided_sphere(20.0, 7)),
        ("s8", varichrom_demo::subdivided_sphere(50.0, 8)),
    ] {
        let bytes = varichrom_demo::stl(&m, "x");
        let t = Instant::now();
        let soup = varichrom_core::formats::read_stl(&bytes).unwrap();
        println!("{name} read {:?}", t.elapsed());
        let t = Instant::now();
        let w = weld(&soup.corners);
        println!(" weld {:?}", t.elapsed());
        let t = Instant::now();
        let _ = Topology::build(&w);
        println!(" topo {:?}", t.elapsed());
        let t = Instant::now();
        let open = Arc::new(OpenMesh::from_bytes(&bytes).unwrap());
        println!(
            " open all {:?} facets {}",
            t.elapsed(),
            open.mesh.facets.len()
        );
        let t = Instant::now();
        open.creases();
        println!(" creases {:?}", t.elapsed());
        let t = Instant::now();
        let p = open.creases().partition(&open.topology, 30.0);
        println!(" partition {:?} {}", t.elapsed(), p.count);
        let t = Instant::now();
        open.tree();
        println!(" tree {:?}", t.elapsed());
        let b = vec![Body {
            model: 0,
            open: open.clone(),
            part: 0,
            shift: [0., 0., -open.mesh.bounds().min[2]],
        }];
        let t = Instant::now();
        let s = survey(b, Settings::from(&Printer::default()), 0.8, &|_| true).unwrap();
        println!(" survey {:?} layers {}", t.elapsed(), s.heights.spans.len());
        let l: Vec<Option<u16>> = (0..open.mesh.facets.len())
            .map(|i| Some((i % 4) as u16))
            .collect();
        let t = Instant::now();
        label(
            &s,
            &Claims {
                facet_region: vec![&l],
                own: vec![0],
                soak_mm: vec![0.8; 4],
            },
        );
        println!(" label {:?}", t.elapsed());
    }
}
