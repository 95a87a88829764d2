'use client'

import type { Project } from '@/data/project-schema'
import { isSure, type Answers, type FoundBy, type RecipeMatch } from '@/data/recipes/match-recipe'

const WAYS: Readonly<Record<FoundBy, string>> = {
  name: 'found by name',
  alike: 'a name alike',
  group: 'the same group',
  material: 'the same material',
  colour: 'a colour alike',
  role: 'the same role',
  nothing: 'nothing alike here',
}

interface Candidate {
  readonly key: string
  readonly name: string
}

function candidatesOf({ models, groups }: Project, kind: RecipeMatch['kind']): readonly Candidate[] {
  switch (kind) {
    case 'part':
      return models.flatMap(({ parts }) => parts)
    case 'material':
      return models.flatMap(({ materials }) => materials)
    case 'group':
      return [...new Set(groups.map(({ name }) => name))].map((name) => ({ key: name, name }))
  }
}

interface QuestionsProps {
  readonly project: Project
  readonly matches: readonly RecipeMatch[]
  readonly answers: Answers
  readonly onAnswer: (id: string, keys: readonly string[]) => void
}

/** What a recipe names, and what it is taken to be here: what needs an answer first, then what was found by its name. */
export function RecipeQuestions({ project, matches, answers, onAnswer }: QuestionsProps) {
  const asked = matches.filter((match) => !isSure(match))
  const sure = matches.filter(isSure)
  if (matches.length === 0)
    return <p className="quiet">It goes by roles, depth and light alone: it fits whatever it is put on.</p>
  const row = (match: RecipeMatch) => (
    <Question
      key={match.id}
      match={match}
      keys={answers.get(match.id) ?? []}
      candidates={candidatesOf(project, match.kind)}
      onAnswer={(keys) => onAnswer(match.id, keys)}
    />
  )
  return (
    <>
      {asked.length > 0 && <ul className="recipe-questions">{asked.map(row)}</ul>}
      {sure.length > 0 && (
        <details open={asked.length === 0 && sure.length < 4}>
          <summary className="quiet">Found by name: {sure.length}</summary>
          <ul className="recipe-questions">{sure.map(row)}</ul>
        </details>
      )}
    </>
  )
}

interface QuestionProps {
  readonly match: RecipeMatch
  readonly keys: readonly string[]
  readonly candidates: readonly Candidate[]
  readonly onAnswer: (keys: readonly string[]) => void
}

const GUESS = 'guess'

function Question({ match, keys, candidates, onAnswer }: QuestionProps) {
  const isGuess = match.keys.length > 0 && keys.join('\n') === match.keys.join('\n')
  const names = new Map(candidates.map(({ key, name }) => [key, name]))
  const guess = match.keys.map((key) => names.get(key) ?? key)
  const kind = match.kind === 'part' ? 'part' : match.kind
  return (
    <li>
      <b>{match.name}</b>{' '}
      <span className="quiet">
        {kind}, {WAYS[match.by]}
      </span>
      <select
        className="plain-select"
        aria-label={`What ${match.name} is here`}
        value={isGuess ? GUESS : keys.length === 0 ? '' : keys[0]}
        onChange={(e) => {
          const { value } = e.target
          onAnswer(value === GUESS ? match.keys : value === '' ? [] : [value])
        }}
      >
        {guess.length > 0 && (
          <option value={GUESS}>
            {guess.length > 2 ? `${guess.length} parts: ${guess[0]} …` : guess.join(', ')}
          </option>
        )}
        <option value="">Leave it out</option>
        <optgroup label="Something else">
          {candidates.map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </optgroup>
      </select>
      {match.usedBy.length > 0 && (
        <span className="quiet used-by">for {[...new Set(match.usedBy)].join(', ')}</span>
      )}
    </li>
  )
}
