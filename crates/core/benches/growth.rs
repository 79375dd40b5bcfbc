//! Cost at four sizes, each four times the one before: it must grow no faster than n log n.

use criterion::{BenchmarkId, Criterion, Throughput, criterion_group, criterion_main};
use std::hint::black_box;
use std::sync::Arc;
use varichrom_core::layers::{Body, Settings, survey};
use varichrom_core::machine::Printer;
use varichrom_core::model::OpenMesh;
use varichrom_core::order::{Turn, least_cost_order};
use varichrom_demo::{stl, subdivided_sphere};

fn meshes(c: &mut Criterion) {
    let mut opening = c.benchmark_group("open");
    opening.sample_size(10);
    for splits in 5..=8 {
        let bytes = stl(&subdivided_sphere(20.0, splits), "sphere");
        let facets = 20u64 << (2 * splits);
        opening.throughput(Throughput::Elements(facets));
        opening.bench_with_input(BenchmarkId::from_parameter(facets), &bytes, |b, bytes| {
            b.iter(|| OpenMesh::from_bytes(black_box(bytes)));
        });
    }
    opening.finish();
    let mut patches = c.benchmark_group("patches");
    patches.sample_size(10);
    for splits in 5..=8 {
        let open =
            OpenMesh::from_bytes(&stl(&subdivided_sphere(20.0, splits), "sphere")).expect("sound");
        open.creases();
        let facets = open.mesh.facets.len() as u64;
        patches.throughput(Throughput::Elements(facets));
        patches.bench_with_input(BenchmarkId::from_parameter(facets), &open, |b, open| {
            b.iter(|| open.creases().partition(&open.topology, black_box(30.0)));
        });
    }
    patches.finish();
    let mut layers = c.benchmark_group("layers of a 10 mm sphere");
    layers.sample_size(10);
    for splits in 4..=7 {
        let bytes = stl(&subdivided_sphere(5.0, splits), "sphere");
        let open = Arc::new(OpenMesh::from_bytes(&bytes).expect("sound"));
        let facets = open.mesh.facets.len() as u64;
        layers.throughput(Throughput::Elements(facets));
        layers.bench_with_input(BenchmarkId::from_parameter(facets), &open, |b, open| {
            b.iter(|| {
                let body = Body {
                    model: 0,
                    open: open.clone(),
                    part: 0,
                    shift: [0.0, 0.0, 5.0],
                };
                survey(
                    vec![body],
                    Settings::from(&Printer::default()),
                    0.8,
                    &|_| true,
                )
                .map(|s| s.heights.spans.len())
            });
        });
    }
    layers.finish();
}

fn orders(c: &mut Criterion) {
    let swap: Vec<Vec<f64>> = (0..8u32)
        .map(|a| {
            (0..8u32)
                .map(|b| f64::from((a * 37 + b * 101) % 83))
                .collect()
        })
        .collect();
    let tables = [swap];
    let mut group = c.benchmark_group("order of 8 slots");
    for count in [250usize, 1000, 4000, 16000] {
        let layers: Vec<Turn> = (0..count)
            .map(|i| Turn {
                slots: (0..8).filter(|s| (i >> s) % 3 != 1).collect(),
                ..Turn::default()
            })
            .collect();
        group.throughput(Throughput::Elements(count as u64));
        group.bench_with_input(BenchmarkId::from_parameter(count), &layers, |b, layers| {
            b.iter(|| least_cost_order(black_box(layers), &tables));
        });
    }
    group.finish();
}

criterion_group!(benches, meshes, orders);
criterion_main!(benches);
