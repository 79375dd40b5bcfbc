//! The written 3MF, opened by the 3MF Consortium's own library (PyPI `lib3mf`) in strict mode.

use anyhow::{Context, Result};
use std::process::Command;
use varichrom_core::job::{History, Models};
use varichrom_core::mesh::OpenMesh;

const READ: &str = r#"
import sys, lib3mf
model = lib3mf.get_wrapper().CreateModel()
reader = model.QueryReader("3mf")
reader.SetStrictModeActive(True)
reader.ReadFromFile(sys.argv[1])
print("warnings", reader.GetWarningCount(), "unit", int(model.GetUnit()))
groups = model.GetColorGroups()
colours = {}
while groups.MoveNext():
    group = groups.GetCurrentColorGroup()
    for i in group.GetAllPropertyIDs():
        c = group.GetColor(i)
        colours[(group.GetResourceID(), i)] = '#%02x%02x%02x' % (c.Red, c.Green, c.Blue)
objects = model.GetMeshObjects()
while objects.MoveNext():
    mesh = objects.GetCurrentMeshObject()
    used = {}
    for p in mesh.GetAllTriangleProperties():
        colour = colours[(p.ResourceID, p.PropertyIDs[0])]
        used[colour] = used.get(colour, 0) + 1
    print(mesh.GetName(), mesh.GetTriangleCount(), mesh.IsManifoldAndOriented(), sorted(used.items()))
"#;

struct One(std::sync::Arc<OpenMesh>);

impl Models for One {
    fn open(&self, _: &str) -> Result<std::sync::Arc<OpenMesh>, varichrom_core::Problem> {
        Ok(self.0.clone())
    }
}

#[test]
fn the_consortiums_library_opens_our_3mf_without_a_warning() -> Result<()> {
    let python = std::env::var("VARICHROM_PYTHON")
        .context("VARICHROM_PYTHON is not set: run the tests by `cargo xtask test`")?;
    let folder = tempfile::tempdir()?;
    for demo in varichrom_demo::demo_jobs() {
        let open = std::sync::Arc::new(OpenMesh::from_bytes(&demo.bytes)?);
        let mut edits = vec![
            varichrom_core::job::Edit::RenameJob {
                name: "Tides & <lights>".into(),
            },
            varichrom_core::job::Edit::OpenModel {
                model: demo.model.into(),
                file: demo.file.into(),
                content: "x".into(),
            },
        ];
        edits.extend(demo.edits);
        let head = edits.len();
        let history = History::replay(edits, head, &One(open.clone()))?;
        let job = history.job();
        let file = folder.path().join("model.3mf");
        std::fs::write(&file, job.threemf()?)?;
        let out = Command::new(&python)
            .args(["-c", READ])
            .arg(&file)
            .output()?;
        let text = String::from_utf8_lossy(&out.stdout).into_owned();
        assert!(
            out.status.success(),
            "{}",
            String::from_utf8_lossy(&out.stderr)
        );
        let mut lines = text.lines();
        assert_eq!(lines.next(), Some("warnings 0 unit 1"), "{text}");
        for (number, part) in job.models[0].parts.iter().enumerate() {
            let mut used = std::collections::BTreeMap::new();
            for facet in (0..open.mesh.facets.len() as u32)
                .filter(|f| open.part_of[*f as usize] == number as u32)
            {
                let colour = job.regions[job.region_of_facet(0, facet) as usize].colour;
                *used.entry(colour.to_string()).or_insert(0) += 1;
            }
            let listed: Vec<String> = used.iter().map(|(c, n)| format!("('{c}', {n})")).collect();
            let expected = format!(
                "{} {} True [{}]",
                part.name,
                open.parts[number].facets,
                listed.join(", ")
            );
            assert_eq!(lines.next(), Some(expected.as_str()));
        }
    }
    Ok(())
}
