//! The share of a task of a job array.

use tin_crown::study::Shard;

use crate::failure::Failure;

/// What job arrays call the number of a task, its least and its greatest number, or how many there are: of engines
/// for clusters, and of programs that start one process for each core.
const ARRAYS: [[&str; 4]; 4] = [
    [
        "SLURM_ARRAY_TASK_ID",
        "SLURM_ARRAY_TASK_MIN",
        "SLURM_ARRAY_TASK_MAX",
        "",
    ],
    ["JOB_COMPLETION_INDEX", "", "", "JOB_COMPLETIONS"],
    ["SGE_TASK_ID", "SGE_TASK_FIRST", "SGE_TASK_LAST", ""],
    ["PBS_ARRAY_INDEX", "", "", "PBS_ARRAY_COUNT"],
];

/// The shard that the variables of a job array say, if this is a task of one.
pub fn shard(variable: &dyn Fn(&str) -> Option<String>) -> Result<Option<Shard>, Failure> {
    let number = |name: &str| -> Result<Option<u64>, Failure> {
        let Some(text) = variable(name).filter(|_| !name.is_empty()) else {
            return Ok(None);
        };
        let number = text.parse().map_err(|_| {
            Failure::new(format!("{name} is `{text}`, which is no number of a task"))
                .help("say --shard K/N")
        });
        number.map(Some)
    };
    for [task, least, most, count] in ARRAYS {
        // Some engines set it to a word where there is no array.
        if variable(task).is_none_or(|text| text == "undefined") {
            continue;
        }
        let Some(task_number) = number(task)? else {
            continue;
        };
        let first = number(least)?.unwrap_or(match task {
            "PBS_ARRAY_INDEX" => 1,
            _ => 0,
        });
        let of = match (number(most)?, number(count)?) {
            (Some(most), _) => most.checked_sub(first).map(|span| span + 1),
            (None, count) => count,
        };
        let shard = of.and_then(|of| Shard::new(task_number.checked_sub(first)? + 1, of).ok());
        return match shard {
            Some(shard) => Ok(Some(shard)),
            None => Err(Failure::new(format!(
                "{task} is {task_number}, but how many tasks there are is not told"
            ))
            .help("say --shard K/N")),
        };
    }
    Ok(None)
}
